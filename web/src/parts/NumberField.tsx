import TextField, { type TextFieldProps } from "@mui/material/TextField";
import { useState } from "react";

interface NumberFieldProps extends Omit<TextFieldProps, "value" | "onChange" | "type"> {
  value: number;
  onChange: (value: number) => void;
  min?: number;
  max?: number;
}

/**
 * A number that is typed: what stands in the box is what was typed ("-", "", "07"), and the value
 * follows as soon as it is a whole number within the bounds. On leaving, the box shows the value.
 */
export function NumberField({ value, onChange, min, max, onBlur, ...rest }: NumberFieldProps) {
  const [typed, setTyped] = useState<string>();
  const read = (text: string): number | undefined => {
    if (!/^-?\d{1,9}$/.test(text.trim())) return undefined;
    const number = Number(text);
    return (min !== undefined && number < min) || (max !== undefined && number > max)
      ? undefined
      : number;
  };
  const wrong = typed !== undefined && typed !== "" && typed !== "-" && read(typed) === undefined;
  return (
    <TextField
      {...rest}
      value={typed ?? String(value)}
      error={wrong || Boolean(rest.error)}
      onChange={(event) => {
        setTyped(event.target.value);
        const number = read(event.target.value);
        if (number !== undefined) onChange(number);
      }}
      onBlur={(event) => {
        setTyped(undefined);
        onBlur?.(event);
      }}
      slotProps={{ ...rest.slotProps, htmlInput: { inputMode: "numeric", autoComplete: "off" } }}
    />
  );
}
