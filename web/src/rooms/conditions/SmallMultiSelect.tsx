import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface SmallMultiSelectProps {
  label: string;
  values: string[];
  options: [string, string][];
  readOnly: boolean;
  /** At least one stays. */
  onChange: (values: string[]) => void;
}

/** Several of a few words, any of which it may be; all that are chosen are shown. */
export function SmallMultiSelect(props: SmallMultiSelectProps) {
  const { label, values, options, readOnly, onChange } = props;
  const gone = values.filter((one) => !options.some(([key]) => key === one));
  const all = [...options, ...gone.map((one): [string, string] => [one, "one that is gone"])];
  const wordsOf = (key: string) => all.find(([one]) => one === key)?.[1] ?? key;
  return (
    <TextField
      select
      label={label}
      value={values}
      disabled={readOnly}
      onChange={(event) => {
        const chosen = event.target.value as unknown as string[];
        if (chosen.length) onChange(chosen);
      }}
      slotProps={{
        select: {
          multiple: true,
          renderValue: (chosen) => (chosen as string[]).map(wordsOf).join(" or "),
        },
      }}
      sx={{ width: "auto", minWidth: 110 }}
    >
      {all.map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}
