import { DateBox } from "../../parts/dates/DateBox";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { timeZonesQuery } from "../../api/settings";
import { type Schemas } from "../../api/client";
import { AddMenu } from "../../parts/AddMenu";
import { Picker } from "../../parts/Picker";
import { MadeUpFields } from "./MadeUpFields";
import { DurationFields } from "./panelParts";
import { PersonPicker } from "../../parts/PersonPicker";
import { ASSUMED, type Assumption, type RehearsalAsked, type Who } from "./rehearsal";
import { type SequenceDocument } from "./sequenceDocument";

interface AskingProps {
  document: SequenceDocument;
  catalogue: Schemas["CatalogueOut"];
  asked: RehearsalAsked;
  onAsk: (asked: RehearsalAsked) => void;
  onDone: () => void;
}

/** Whom it is rehearsed with, when they enter, and what is assumed. */
export function RehearsalAsking(props: AskingProps) {
  const { document, catalogue, asked, onAsk, onDone } = props;
  const zones = useQuery(timeZonesQuery());
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
      {!asked.who.person && (
        <MadeUpFields who={asked.who} catalogue={catalogue} onChange={setWho} />
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
      <DateBox
        kind="moment"
        label="Enters at (empty: now)"
        value={asked.start}
        onChange={(start) => onAsk({ ...asked, start })}
      />
      {asked.assumptions.map((one, index) => (
        <Box key={index} sx={{ borderLeft: 2, borderColor: "divider", pl: 1 }}>
          <Stack spacing={1}>
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              {ASSUMED.find(([kind]) => kind === one.kind)?.[1]}
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
          options={ASSUMED}
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
        <Button onClick={onDone}>Hide settings</Button>
      </Stack>
    </Stack>
  );
}
