import TextField, { type TextFieldProps } from "@mui/material/TextField";
import { useState } from "react";

interface LimitedFieldProps extends Omit<TextFieldProps, "onChange" | "value"> {
  value: string;
  /** How many characters it takes. */
  most: number;
  onChange: (text: string) => void;
}

/** A box for a text that takes so many characters; it says so where more was written or pasted. */
export function LimitedField({ value, most, onChange, ...rest }: LimitedFieldProps) {
  const [cut, setCut] = useState(false);
  return (
    <TextField
      {...rest}
      value={value}
      onChange={(event) => {
        const text = event.target.value;
        setCut(text.length > most);
        onChange(text.slice(0, most));
      }}
      helperText={cut ? <span role="status">{cutWords(most)}</span> : rest.helperText}
    />
  );
}

/** What is said where more was written than a text may hold. */
export function cutWords(most: number): string {
  return `At most ${most} characters: the rest was cut off`;
}
