import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../../api/client";
import { Band, BandRow } from "../../parts/Band";
import { FindingsAt } from "../../parts/Findings";
import { focusOnId } from "../../parts/focus/focus";
import { Loading } from "../../parts/Loading";
import { newId } from "../../parts/newId";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import { ConditionGroup } from "../conditions/ConditionGroup";
import { OneOpen } from "./OneOpen";

const WriteInStep = lazy(() => import("../messages/WriteInStep"));

type Document = Schemas["BroadcastDocument"];
type Version = Schemas["Version"];
type Trial = Document["trial"];

/** As many as there can be (`core.broadcasts.MOST_VERSIONS`). */
const MOST = 4;
const LETTERS = "ABCD";
const RULES: [Trial["by"], string][] = [
  ["clicked", "More people click"],
  ["opened", "More people open it (an estimate)"],
  ["goal", "More people reach a goal"],
  ["fewest_left", "Fewer people unsubscribe"],
  ["member", "A member chooses"],
];

interface MessageBandProps {
  broadcast: Schemas["BroadcastOut"];
  document: Document;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  edit: (change: (before: Document) => Document) => void;
}

/** What goes out, and which versions of it are tried first. */
export function MessageBand({ broadcast, document, catalogue, readOnly, edit }: MessageBandProps) {
  const { versions, trial } = document;
  const setVersions = (next: Version[]) => edit((before) => ({ ...before, versions: next }));
  const setTrial = (change: Partial<Trial>) =>
    edit((before) => ({ ...before, trial: { ...before.trial, ...change } }));
  const add = () =>
    setVersions([
      ...versions,
      { id: newId("v"), message: versions[0]?.message ?? null, subject: "" },
    ]);
  const sentence = (
    <>
      {broadcast.messages.map((one, at) => (
        <div key={at}>
          {versions.length > 1 && <strong>{LETTERS[at]} </strong>}
          {one}
        </div>
      ))}
      {broadcast.trial && (
        <Typography variant="body2" color="textSecondary">
          {broadcast.trial}
        </Typography>
      )}
    </>
  );
  return (
    <Band name="Message" id="message">
      <BandRow>
        <OneOpen sentence={sentence} starts={!versions[0]?.message} readOnly={readOnly}>
          <Stack spacing={3} sx={{ pt: 1, maxWidth: 640 }}>
            {versions.map((one, at) => (
              <VersionForm
                key={one.id}
                name={versions.length > 1 ? (LETTERS[at] ?? "") : ""}
                version={one}
                catalogue={catalogue}
                readOnly={readOnly}
                onChange={(next) =>
                  setVersions(versions.map((other) => (other.id === one.id ? next : other)))
                }
                onRemove={() => setVersions(versions.filter((other) => other.id !== one.id))}
              />
            ))}
            {!readOnly && versions.length < MOST && (
              <div>
                <Button variant="outlined" onClick={add}>
                  {versions.length > 1 ? "Add a version" : "Try two versions first"}
                </Button>
              </div>
            )}
            {versions.length > 1 && (
              <TrialForm trial={trial} catalogue={catalogue} readOnly={readOnly} set={setTrial} />
            )}
            <TextField
              select
              label="Page in the browser"
              value={document.page ? "yes" : "no"}
              disabled={readOnly}
              onChange={(event) =>
                edit((before) => ({ ...before, page: event.target.value === "yes" }))
              }
              sx={{ maxWidth: 420 }}
            >
              <MenuItem value="yes">Everybody who knows its address can read it</MenuItem>
              <MenuItem value="no">There is none</MenuItem>
            </TextField>
          </Stack>
        </OneOpen>
        <FindingsAt findings={broadcast.findings} place="message" />
      </BandRow>
    </Band>
  );
}

interface VersionFormProps {
  name: string;
  version: Version;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  onChange: (version: Version) => void;
  onRemove: () => void;
}

function VersionForm(props: VersionFormProps) {
  const { name, version, catalogue, readOnly, onChange, onRemove } = props;
  const making = useMaking();
  const [wide, setWide] = useState(false);
  const writing = `writing-${version.id}`;
  const known = catalogue.messages.some((one) => one.id === version.message);
  return (
    <Stack spacing={1.5} component="section" aria-label={name ? `Version ${name}` : "The message"}>
      {name && (
        <Stack direction="row" sx={{ alignItems: "center", justifyContent: "space-between" }}>
          <Typography sx={{ fontWeight: 600 }}>Version {name}</Typography>
          {!readOnly && <Button onClick={onRemove}>Remove version {name}</Button>}
        </Stack>
      )}
      <Picker
        label="Message"
        options={catalogue.messages}
        value={version.message ?? null}
        disabled={readOnly}
        onChange={(message) => onChange({ ...version, message })}
        onMake={async (title) => {
          const made = await making.message(title);
          focusOnId(writing, "into");
          return made;
        }}
        makes="message"
      />
      {name && (
        <TextField
          label="Subject of this version"
          value={version.subject}
          disabled={readOnly}
          onChange={(event) => onChange({ ...version, subject: event.target.value })}
          helperText="Empty: the subject of the message"
        />
      )}
      {version.message && known && (
        <Suspense fallback={<Loading within="a sheet" />}>
          <Box id={writing}>
            <WriteInStep
              key={version.message}
              message={version.message}
              near={null}
              wide={wide}
              onWide={setWide}
            />
          </Box>
        </Suspense>
      )}
    </Stack>
  );
}

interface TrialFormProps {
  trial: Trial;
  catalogue: Schemas["CatalogueOut"];
  readOnly: boolean;
  set: (change: Partial<Trial>) => void;
}

function TrialForm({ trial, catalogue, readOnly, set }: TrialFormProps) {
  const { by } = trial;
  return (
    <Stack spacing={1.5} component="section" aria-label="Trial">
      <Typography sx={{ fontWeight: 600 }}>Trial</Typography>
      <NumberField
        label="Percent who get a version first"
        value={trial.share}
        min={1}
        max={90}
        disabled={readOnly}
        onChange={(share) => set({ share })}
        sx={{ maxWidth: 320 }}
      />
      <TextField
        select
        label="The better one is the one where"
        value={by}
        disabled={readOnly}
        onChange={(event) => set({ by: event.target.value as Trial["by"] })}
        helperText="If no difference is clear, the first version goes to the rest"
        sx={{ maxWidth: 320 }}
      >
        {RULES.map(([key, word]) => (
          <MenuItem key={key} value={key}>
            {word}
          </MenuItem>
        ))}
      </TextField>
      {by === "goal" && (
        <ConditionGroup
          group={trial.goal ?? { kind: "all", of: [] }}
          catalogue={catalogue}
          asked={[]}
          readOnly={readOnly}
          onChange={(goal) => set({ goal })}
        />
      )}
      {by !== "member" && (
        <NumberField
          label="Hours to wait after the last email of the trial"
          value={trial.hours}
          min={1}
          max={336}
          disabled={readOnly}
          onChange={(hours) => set({ hours })}
          sx={{ maxWidth: 320 }}
        />
      )}
    </Stack>
  );
}
