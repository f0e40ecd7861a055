import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { mono } from "../../theme";

interface ColourFieldProps {
  label: string;
  value: string;
  disabled: boolean;
  onChange: (colour: string) => void;
}

/** A colour, typed as #rrggbb or chosen. */
export function ColourField({ label, value, disabled, onChange }: ColourFieldProps) {
  const [typed, setTyped] = useState<string>();
  const good = (text: string) => /^#[0-9a-fA-F]{6}$/.test(text);
  return (
    <Stack direction="row" spacing={0.5} sx={{ alignItems: "center" }}>
      <Box
        component="input"
        type="color"
        aria-label={`Choose: ${label}`}
        value={value}
        disabled={disabled}
        onChange={(event: { target: { value: string } }) =>
          onChange(event.target.value.toUpperCase())
        }
        sx={{
          width: 34,
          height: 34,
          p: 0,
          border: 1,
          borderColor: "divider",
          bgcolor: "transparent",
        }}
      />
      <TextField
        label={label}
        value={typed ?? value}
        disabled={disabled}
        error={typed !== undefined && !good(typed)}
        onChange={(event) => {
          setTyped(event.target.value);
          if (good(event.target.value)) onChange(event.target.value.toUpperCase());
        }}
        onBlur={() => setTyped(undefined)}
        slotProps={{ htmlInput: { sx: { fontFamily: mono, fontSize: 14 } } }}
        sx={{ width: 148 }}
      />
    </Stack>
  );
}
