import Checkbox from "@mui/material/Checkbox";
import Autocomplete from "@mui/material/Autocomplete";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { useMaking } from "../../parts/useMaking";
import { useWorkspace } from "../../api/workspace";
import { WhenForm, type PanelContext } from "./panelParts";
import { TimesForm } from "./TimesForm";
import { type Again, type SequenceDocument } from "./sequenceDocument";

/** How people leave before the end. */
export function LeavingPanel(props: PanelContext & { own: string }) {
  const { document, catalogue, edit, readOnly, own } = props;
  const { leaving } = document;
  const change = (part: Partial<SequenceDocument["leaving"]>) =>
    edit((before) => ({ ...before, leaving: { ...before.leaving, ...part } }));
  const others = catalogue.sequences.filter((one) => one.id !== own);
  return (
    <>
      <Typography variant="body2" color="textSecondary">
        Whoever unsubscribes, bounces or complains leaves at once, in any case.
      </Typography>
      <WhenForm
        name="Leaves when"
        none="no other condition"
        when={leaving.when ?? null}
        context={props}
        onChange={(when) => change({ when })}
      />
      <TextField
        select
        sx={{ mt: 2 }}
        label="Entering ends"
        value={leaving.takes_over}
        disabled={readOnly}
        onChange={(event) =>
          change({ takes_over: event.target.value as typeof leaving.takes_over })
        }
      >
        <MenuItem value="none">No other sequence</MenuItem>
        <MenuItem value="these">These sequences</MenuItem>
        <MenuItem value="all">Every other sequence</MenuItem>
      </TextField>
      {leaving.takes_over === "these" && (
        <Autocomplete
          multiple
          sx={{ mt: 1.5 }}
          options={others.map((one) => one.id)}
          value={leaving.these}
          getOptionLabel={(id) => others.find((one) => one.id === id)?.name ?? "one that is gone"}
          disabled={readOnly}
          onChange={(_, these) => change({ these })}
          renderInput={(params) => <TextField {...params} label="Sequences" />}
        />
      )}
    </>
  );
}

/** When its emails go out. */
export function TimesPanel({ document, edit, readOnly }: PanelContext) {
  const { data } = useWorkspace();
  const own = document.times ?? null;
  return (
    <>
      <RadioGroup
        value={own ? "own" : "workspace"}
        onChange={(_, chosen) =>
          edit((before) => ({
            ...before,
            times: chosen === "own" ? (data?.sending_times ?? null) : null,
          }))
        }
      >
        <FormControlLabel
          value="workspace"
          disabled={readOnly}
          control={<Radio size="small" />}
          label="As the workspace says"
        />
        <FormControlLabel
          value="own"
          disabled={readOnly}
          control={<Radio size="small" />}
          label="Its own sending times"
        />
      </RadioGroup>
      {own && (
        <TimesForm
          times={own}
          readOnly={readOnly}
          onChange={(times) => edit((before) => ({ ...before, times }))}
        />
      )}
      <NumberField
        sx={{ mt: 2 }}
        label="Priority (−9 to 9)"
        value={document.priority}
        min={-9}
        max={9}
        disabled={readOnly}
        onChange={(priority) => edit((before) => ({ ...before, priority }))}
        helperText="Of two emails that are due together and may not both go, the one of the higher priority goes first"
      />
      <FormControlLabel
        sx={{ mt: 1 }}
        control={
          <Checkbox
            checked={document.no_broadcasts}
            disabled={readOnly}
            onChange={(_, no_broadcasts) => edit((before) => ({ ...before, no_broadcasts }))}
          />
        }
        label="No broadcasts to people while they are in this sequence"
      />
    </>
  );
}

/** The list its emails belong to, and who they are from. */
export function ListPanel({ document, catalogue, edit, readOnly }: PanelContext) {
  const making = useMaking();
  const { sender } = document;
  const from = (key: keyof typeof sender, label: string) => (
    <TextField
      label={label}
      value={sender[key]}
      placeholder="As the list says"
      disabled={readOnly}
      slotProps={{ inputLabel: { shrink: true } }}
      onChange={(event) =>
        edit((before) => ({ ...before, sender: { ...before.sender, [key]: event.target.value } }))
      }
    />
  );
  return (
    <>
      <Picker
        label="Its emails belong to the list"
        options={catalogue.lists}
        value={document.list ?? null}
        disabled={readOnly}
        onChange={(list) => edit((before) => ({ ...before, list }))}
        onMake={making.list}
        makes="list"
      />
      <Typography variant="caption" color="textSecondary">
        The list decides who may get them, and what unsubscribing ends.
      </Typography>
      <Typography variant="subtitle2" component="h3" sx={{ mt: 2.5, mb: 1.5 }}>
        Sender
      </Typography>
      <Stack spacing={1.5}>
        {from("name", "Sender’s name")}
        {from("address", "Sender’s address")}
        {from("reply_to", "Replies go to")}
      </Stack>
    </>
  );
}

const SECOND: [Again, string, string][] = [
  ["once_only", "Once only", "Whoever asks twice gets nothing the second time."],
  [
    "start_over",
    "Start over",
    "Whoever asks twice gets the promised email again and begins anew; what is queued of the first time is withdrawn.",
  ],
  [
    "run_alongside",
    "Run alongside",
    "Whoever asks twice gets the promised email again, and every email after it twice.",
  ],
];

/** What happens when somebody enters a second time. */
export function AgainPanel({ document, edit, readOnly }: PanelContext) {
  return (
    <RadioGroup
      value={document.again ?? ""}
      onChange={(_, again) => edit((before) => ({ ...before, again: again as Again }))}
    >
      {SECOND.map(([value, label, hint]) => (
        <FormControlLabel
          key={value}
          value={value}
          disabled={readOnly}
          control={<Radio size="small" />}
          sx={{ alignItems: "flex-start", mb: 1 }}
          label={
            <>
              <Typography variant="body2" sx={{ fontWeight: 600, pt: 0.75 }}>
                {label}
              </Typography>
              <Typography variant="body2" color="textSecondary">
                {hint}
              </Typography>
            </>
          }
        />
      ))}
    </RadioGroup>
  );
}
