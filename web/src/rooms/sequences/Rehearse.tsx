import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import DialogActions from "@mui/material/DialogActions";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { AddMenu } from "../../parts/AddMenu";
import { Picker } from "../../parts/Picker";
import { counted } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { useSettled } from "../../parts/useSettled";
import { Panel } from "./Panel";
import { DurationFields, Part } from "./panelParts";
import { PersonPicker } from "./PersonPicker";
import type { Rehearsed } from "./Lanes";
import { ENDED, placeOf, type SequenceDocument } from "./sequenceDocument";

type Rehearsal = Schemas["SequenceRehearsalOut"];
type Entry = Rehearsal["entries"][number];
type Assumption = Schemas["Assumption"];

export interface Who {
  person: Schemas["PersonLine"] | null;
  time_zone: string;
  on_list: "subscribed" | "pending" | "none";
}

export interface RehearsalAsked {
  who: Who;
  lane: string;
  start: string;
  assumptions: Assumption[];
}

export const ASKED: RehearsalAsked = {
  who: { person: null, time_zone: "", on_list: "subscribed" },
  lane: "",
  start: "",
  assumptions: [],
};

/** What a rehearsal is asked for, as the API takes it. */
export function bodyOf(asked: RehearsalAsked): Schemas["SequenceRehearseIn"] {
  const { who } = asked;
  return {
    person: who.person?.id ?? null,
    made_up: who.person
      ? null
      : { time_zone: who.time_zone, values: {}, tags: [], on_list: who.on_list },
    lane: asked.lane || null,
    door: "",
    start: asked.start ? new Date(asked.start).toISOString() : null,
    assumptions: asked.assumptions,
  };
}

/** The rehearsal of a sequence as it is shown; it follows each change once that is saved. */
export function useRehearsal(sequence: Schemas["SequenceOut"], asked: RehearsalAsked, on: boolean) {
  const workspace = useSlug();
  const settled = useSettled(asked, 300);
  return useQuery({
    queryKey: ["sequence-rehearsal", workspace, sequence.id, sequence.edits, settled],
    queryFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/sequences/{sequence}/rehearsal", {
          params: { path: { workspace, sequence: sequence.id } },
          body: bodyOf(settled),
        }),
      ),
    enabled: on,
    placeholderData: keepPreviousData,
  });
}

/** What the rehearsal says of each step, for the lanes and the margin. */
export function rehearsedSteps(rehearsal: Rehearsal, branches: Record<string, string>): Rehearsed {
  const dates = datesIn(rehearsal.time_zone);
  const found: Rehearsed = {};
  for (const entry of rehearsal.entries) {
    if (!entry.step) continue;
    const step = (found[entry.step] ??= { times: [], way: "", moved: "" });
    if (entry.kind === "sends" || entry.kind === "acts" || entry.kind === "goes") {
      const at = dates.short(entry.at);
      if (!step.times.includes(at)) step.times.push(at);
    }
    if (entry.kind === "goes") step.way = branches[`${entry.step}/${entry.says}`] ?? entry.says;
    if (entry.moved[0])
      step.moved = `was ${dates.short(entry.moved[0].wanted)}: ${entry.moved.map((one) => one.why).join(", ")}`;
  }
  return found;
}

/** The names of the branches of splits, by step and branch. */
export function branchNames(document: SequenceDocument): Record<string, string> {
  const found: Record<string, string> = {};
  for (const lane of document.lanes)
    for (const step of lane.steps)
      if (step.kind === "split" || step.kind === "chance")
        step.of.forEach((one, index) => {
          found[`${step.id}/${one.id}`] = one.name || `branch ${index + 1}`;
        });
  return found;
}

function datesIn(timeZone: string) {
  const short = new Intl.DateTimeFormat("en-GB", {
    weekday: "short",
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    hour12: false,
    timeZone,
  });
  const day = new Intl.DateTimeFormat("en-GB", {
    weekday: "short",
    day: "numeric",
    month: "short",
    year: "numeric",
    timeZone,
  });
  return {
    short: (iso: string) => short.format(new Date(iso)),
    day: (iso: string) => day.format(new Date(iso)),
  };
}

interface RehearsalPanelProps {
  sequence: Schemas["SequenceOut"];
  document: SequenceDocument;
  catalogue: Schemas["CatalogueOut"];
  asked: RehearsalAsked;
  rehearsal: Rehearsal | undefined;
  error: unknown;
  onAsk: (asked: RehearsalAsked) => void;
  onClose: () => void;
}

/** Whom it is rehearsed with, what is assumed, and everything that happens, in order. */
export function RehearsalPanel(props: RehearsalPanelProps) {
  const { sequence, document, catalogue, asked, rehearsal, error, onAsk, onClose } = props;
  const [changing, setChanging] = useState(true);
  const [beside, setBeside] = useState<RehearsalAsked>();
  const other = useRehearsal(sequence, beside ?? ASKED, beside !== undefined);
  const name = rehearsal?.name ?? "somebody";
  return (
    <Panel title={`What ${name} gets`} onClose={onClose}>
      {changing ? (
        <Asking
          {...props}
          asked={asked}
          onAsk={onAsk}
          document={document}
          catalogue={catalogue}
          onDone={() => setChanging(false)}
        />
      ) : (
        <Button sx={{ p: 0 }} onClick={() => setChanging(true)}>
          Change the person, the moment or what is assumed
        </Button>
      )}
      <Problem error={error} />
      {rehearsal && (
        <Listed
          rehearsal={rehearsal}
          document={document}
          catalogue={catalogue}
          person={asked.who.person}
        />
      )}
      {beside ? (
        <>
          <Part name={`Beside: ${other.data?.name ?? "somebody"}`}>
            <PersonPicker
              label="Other person"
              value={beside.who.person}
              onChange={(person) => setBeside({ ...beside, who: { ...beside.who, person } })}
            />
          </Part>
          {other.data && (
            <Listed
              rehearsal={other.data}
              document={document}
              catalogue={catalogue}
              person={beside.who.person}
            />
          )}
          <Button onClick={() => setBeside(undefined)}>Remove the other person</Button>
        </>
      ) : (
        <Button onClick={() => setBeside({ ...asked, who: ASKED.who })}>
          Compare with another person
        </Button>
      )}
      <TestSend sequence={sequence.id} asked={asked} />
    </Panel>
  );
}

const KINDS: [Assumption["kind"], string][] = [
  ["event", "An event happens"],
  ["confirms", "They confirm the list"],
  ["leaves_list", "They unsubscribe"],
  ["tag", "A tag is added"],
  ["no_tag", "A tag is removed"],
  ["field", "A field changes"],
];

function Asking(
  props: Pick<RehearsalPanelProps, "document" | "catalogue" | "asked" | "onAsk"> & {
    onDone: () => void;
  },
) {
  const { document, catalogue, asked, onAsk, onDone } = props;
  const zones = useQuery({
    queryKey: ["time-zones"],
    queryFn: () => take(api.GET("/api/time-zones")),
    staleTime: Infinity,
  });
  const setWho = (who: Partial<Who>) => onAsk({ ...asked, who: { ...asked.who, ...who } });
  const set = (index: number, change: Partial<Assumption>) =>
    onAsk({
      ...asked,
      assumptions: asked.assumptions.map((one, at) => (at === index ? { ...one, ...change } : one)),
    });
  return (
    <Stack spacing={1.5}>
      <PersonPicker
        label="Person (empty: somebody made up)"
        value={asked.who.person}
        onChange={(person) => setWho({ person })}
      />
      {!asked.who.person && (
        <Stack direction="row" spacing={1}>
          <TextField
            select
            label="Time zone"
            value={asked.who.time_zone}
            onChange={(event) => setWho({ time_zone: event.target.value })}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          >
            <MenuItem value="">the workspace’s</MenuItem>
            {zones.data?.map((one) => (
              <MenuItem key={one} value={one}>
                {one}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="On the list"
            value={asked.who.on_list}
            onChange={(event) => setWho({ on_list: event.target.value as Who["on_list"] })}
          >
            <MenuItem value="subscribed">subscribed</MenuItem>
            <MenuItem value="pending">pending</MenuItem>
            <MenuItem value="none">not on it</MenuItem>
          </TextField>
        </Stack>
      )}
      {document.lanes.length > 1 && (
        <TextField
          select
          label="Enters lane"
          value={asked.lane || (document.lanes[0]?.id ?? "")}
          onChange={(event) => onAsk({ ...asked, lane: event.target.value })}
        >
          {document.lanes.map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {one.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField
        type="datetime-local"
        label="Enters at (empty: now)"
        value={asked.start}
        onChange={(event) => onAsk({ ...asked, start: event.target.value })}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      {asked.assumptions.map((one, index) => (
        <Box key={index} sx={{ borderLeft: 2, borderColor: "divider", pl: 1 }}>
          <Stack spacing={1}>
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              {KINDS.find(([kind]) => kind === one.kind)?.[1]}
            </Typography>
            {one.kind === "event" && (
              <TextField
                label="Name of the event"
                value={one.about}
                onChange={(event) => set(index, { about: event.target.value })}
              />
            )}
            {(one.kind === "tag" || one.kind === "no_tag") && (
              <Picker
                label="Tag"
                options={catalogue.tags}
                value={one.about || null}
                onChange={(about) => set(index, { about: about ?? "" })}
              />
            )}
            {one.kind === "field" && (
              <>
                <Picker
                  label="Field"
                  options={catalogue.fields.map((field) => ({ id: field.key, name: field.label }))}
                  value={one.about || null}
                  onChange={(about) => set(index, { about: about ?? "" })}
                />
                <TextField
                  label="Becomes"
                  value={one.value}
                  onChange={(event) => set(index, { value: event.target.value })}
                />
              </>
            )}
            <DurationFields
              label="After"
              duration={one.after}
              readOnly={false}
              onChange={(after) => set(index, { after })}
            />
            <Button
              color="inherit"
              sx={{ alignSelf: "flex-start", p: 0 }}
              onClick={() =>
                onAsk({
                  ...asked,
                  assumptions: asked.assumptions.filter((_, at) => at !== index),
                })
              }
            >
              Remove
            </Button>
          </Stack>
        </Box>
      ))}
      <Stack direction="row" spacing={1}>
        <AddMenu
          label="Assume something"
          options={KINDS}
          onAdd={(kind) =>
            onAsk({
              ...asked,
              assumptions: [
                ...asked.assumptions,
                { kind, about: "", value: "", after: { amount: 3, unit: "days" } },
              ],
            })
          }
        />
        <Button onClick={onDone}>Hide these</Button>
      </Stack>
    </Stack>
  );
}

interface ListedProps {
  rehearsal: Rehearsal;
  document: SequenceDocument;
  catalogue: Schemas["CatalogueOut"];
  person: Schemas["PersonLine"] | null;
}

/** Everything that happens, in order, in the person's own zone; each email opens. */
function Listed({ rehearsal, document, catalogue, person }: ListedProps) {
  const [open, setOpen] = useState<string>();
  const dates = useMemo(() => datesIn(rehearsal.time_zone), [rehearsal.time_zone]);
  const branches = useMemo(() => branchNames(document), [document]);
  const emails = rehearsal.entries.filter((one) => one.kind === "sends");
  const shown = rehearsal.entries.filter((one) => one.kind !== "waits" || rehearsal.cut);
  const last = rehearsal.entries[rehearsal.entries.length - 1];
  return (
    <>
      <Typography variant="body2" sx={{ mt: 1.5 }}>
        <strong>{counted(emails.length, "email", "emails")}</strong>
        {last && ` until ${dates.day(last.until ?? last.at)}`} · in {rehearsal.time_zone}
        {rehearsal.cut && ", and it goes on"}
      </Typography>
      <Box component="ol" aria-label="What happens" sx={{ listStyle: "none", p: 0, m: 0, mt: 1 }}>
        {shown.slice(0, 400).map((entry, index) => (
          <Box
            key={index}
            component="li"
            sx={{
              display: "grid",
              gridTemplateColumns: "108px minmax(0, 1fr)",
              columnGap: 1,
              py: 0.5,
              borderBottom: 1,
              borderColor: "divider",
            }}
          >
            <Typography
              variant="caption"
              sx={{ fontWeight: 600 }}
              color={entry.moved.length > 0 ? "warning" : "inherit"}
            >
              {dates.short(entry.at)}
            </Typography>
            <Box sx={{ minWidth: 0 }}>
              {entry.kind === "sends" ? (
                <Button
                  sx={{ p: 0, textAlign: "left", whiteSpace: "normal" }}
                  onClick={() => setOpen(entry.message)}
                >
                  {catalogue.messages.find((one) => one.id === entry.message)?.name ??
                    "a message that is gone"}
                </Button>
              ) : (
                <Typography variant="caption" component="div">
                  {words(entry, document, catalogue, branches, dates.short)}
                </Typography>
              )}
              {entry.moved[0] && (
                <Typography variant="caption" component="div" color="textSecondary">
                  moved from {dates.short(entry.moved[0].wanted)}:{" "}
                  {entry.moved.map((one) => one.why).join(", then ")}
                </Typography>
              )}
            </Box>
          </Box>
        ))}
      </Box>
      {open && <AsSeen message={open} person={person} onClose={() => setOpen(undefined)} />}
    </>
  );
}

function words(
  entry: Entry,
  document: SequenceDocument,
  catalogue: Schemas["CatalogueOut"],
  branches: Record<string, string>,
  short: (iso: string) => string,
): string {
  const lane = document.lanes.find((one) => one.id === entry.lane)?.name ?? "";
  switch (entry.kind) {
    case "enters":
      return `enters lane ${lane}`;
    case "waits":
      return `waits${entry.until ? ` until ${short(entry.until)}` : ""}`;
    case "goes": {
      const at = placeOf(document, entry.step);
      const kind = at?.lane.steps[at.index]?.kind;
      const way = branches[`${entry.step}/${entry.says}`] ?? WAYS[entry.says] ?? entry.says;
      return `${kind === "split" || kind === "chance" ? "split" : "wait"}: ${way}`;
    }
    case "acts":
      return entry.says;
    case "goal":
      return `goal reached: ${entry.says}`;
    case "ends":
      return entry.says === "finished" ? "the end" : (ENDED[entry.says] ?? entry.says);
    case "stuck":
      return `stuck: ${entry.says}`;
    case "assumed": {
      const [kind = "", about = ""] = entry.says.split(":");
      const named =
        catalogue.tags.find((one) => one.id === about)?.name ??
        catalogue.fields.find((one) => one.key === about)?.label ??
        about;
      const said = KINDS.find(([one]) => one === kind)?.[1] ?? kind;
      return `assumed: ${said.toLowerCase()}${named ? ` (${named})` : ""}`;
    }
    default:
      return "";
  }
}

const WAYS: Record<string, string> = {
  held: "it holds",
  otherwise: "otherwise",
  date: "the date came",
  stop: "ends here",
  stops: "stops itself",
};

/** An email as that person would see it. */
function AsSeen(props: {
  message: string;
  person: Schemas["PersonLine"] | null;
  onClose: () => void;
}) {
  const workspace = useSlug();
  const { message, person, onClose } = props;
  const query = person ? `?person=${person.id}` : "";
  const { data } = useQuery({
    queryKey: ["preview", workspace, message, person?.id],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/messages/{message}/preview", {
          params: {
            path: { workspace, message },
            query: person ? { person: person.id } : {},
          },
        }),
      ),
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>{data?.subject || "Email"}</DialogTitle>
      <DialogContent>
        <Box
          component="iframe"
          title="The email"
          sandbox=""
          src={`/api/workspaces/${workspace}/messages/${message}/preview.html${query}`}
          sx={{ width: "100%", height: 460, border: 0, bgcolor: "#fff" }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

/** Sends the member every email of the rehearsal, to their own inbox. */
function TestSend({ sequence, asked }: { sequence: string; asked: RehearsalAsked }) {
  const workspace = useSlug();
  const [busy, setBusy] = useState(false);
  const [done, setDone] = useState<Schemas["TrialOut"]>();
  const [failed, setFailed] = useState<unknown>();
  const send = async () => {
    setBusy(true);
    setFailed(undefined);
    try {
      setDone(
        await take(
          api.POST("/api/workspaces/{workspace}/sequences/{sequence}/test", {
            params: { path: { workspace, sequence } },
            body: bodyOf(asked),
          }),
        ),
      );
    } catch (caught) {
      setFailed(caught);
    }
    setBusy(false);
  };
  return (
    <Box sx={{ mt: 1.5 }}>
      <Button variant="outlined" disabled={busy} onClick={() => void send()}>
        Send all to me
      </Button>
      <Typography variant="body2" role="status" sx={{ mt: 0.5 }}>
        {done && `${counted(done.sent, "test email", "test emails")} sent to ${done.to}.`}
      </Typography>
      {done?.problems.map((one) => (
        <Typography key={one.place + one.code} variant="body2" color="error">
          {one.sentence} {one.fix}
        </Typography>
      ))}
      <Problem error={failed} />
    </Box>
  );
}
