import { useAttempt } from "../../api/useAttempt";
import Autocomplete from "@mui/material/Autocomplete";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Picker } from "../../parts/Picker";
import { Problem } from "../../parts/Problem";

interface ChosenFormProps {
  service: Schemas["ServiceOut"];
  need: Schemas["Need"];
  chosen: Schemas["Chosen"];
  asked: { name: string; label: string }[];
  readOnly: boolean;
  onChange: (chosen: Schemas["Chosen"]) => void;
}

/** Which list, tag, stage over there: for everybody, and by an answer. */
export function ChosenForm({ service, need, chosen, asked, readOnly, onChange }: ChosenFormProps) {
  const workspace = useSlug();
  const reload = useReload();
  const { attempt, failed } = useAttempt();
  const options = (service.things[need.kind] ?? []).map((one) => ({ id: one.id, name: one.label }));
  const kind = service.description.things.find((one) => one.kind === need.kind);
  const makes = need.label.toLowerCase();
  const make = async (label: string) => {
    const made = await take(
      api.POST("/api/workspaces/{workspace}/services/{service}/things", {
        params: { path: { workspace, service: service.id } },
        body: { kind: need.kind, label },
      }),
    );
    await reload("service", "catalogue", "source");
    return made.id;
  };
  const add = async (label: string) => {
    await attempt(async () => {
      const id = await make(label);
      onChange({ ...chosen, things: [...chosen.things, id] });
    });
  };
  return (
    <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
      <Stack sx={{ width: need.several ? 300 : 220 }}>
        {need.several ? (
          <Autocomplete
            multiple
            freeSolo={Boolean(kind?.make)}
            options={options.map((one) => one.id)}
            value={chosen.things}
            disabled={readOnly}
            getOptionLabel={(id) => options.find((one) => one.id === id)?.name ?? id}
            onChange={(_, ids) => {
              const fresh = ids.find((id) => !options.some((one) => one.id === id));
              if (fresh !== undefined && kind?.make) void add(fresh);
              else onChange({ ...chosen, things: ids });
            }}
            renderInput={(params) => <TextField {...params} label={`${need.label}s there`} />}
          />
        ) : (
          <Picker
            label={`${need.label} there`}
            options={options}
            value={chosen.things[0] ?? null}
            disabled={readOnly}
            onChange={(id) => onChange({ ...chosen, things: id === null ? [] : [id] })}
            {...(kind?.make && { onMake: make, makes })}
          />
        )}
      </Stack>
      {asked.length > 0 && (
        <TextField
          select
          label={need.several ? "And by the answer to" : "Or by the answer to"}
          value={asked.some((one) => one.name === chosen.question) ? chosen.question : ""}
          disabled={readOnly}
          onChange={(event) => onChange({ ...chosen, question: event.target.value })}
          sx={{ width: 200 }}
        >
          <MenuItem value="">no answer</MenuItem>
          {asked.map((one) => (
            <MenuItem key={one.name} value={one.name}>
              {one.label}
            </MenuItem>
          ))}
        </TextField>
      )}
      {chosen.question !== "" && (
        <Autocomplete
          multiple
          options={options.map((one) => one.id)}
          value={chosen.only}
          disabled={readOnly}
          getOptionLabel={(id) => options.find((one) => one.id === id)?.name ?? id}
          onChange={(_, only) => onChange({ ...chosen, only })}
          renderInput={(params) => (
            <TextField {...params} label={`Only these ${makes}s (empty: any)`} />
          )}
          sx={{ width: 240 }}
        />
      )}
      <Problem error={failed} />
    </Stack>
  );
}
