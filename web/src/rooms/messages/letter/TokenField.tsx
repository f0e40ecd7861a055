import Button from "@mui/material/Button";
import InputAdornment from "@mui/material/InputAdornment";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import TextField, { type TextFieldProps } from "@mui/material/TextField";
import { useRef, useState } from "react";
import { cutWords } from "../../../parts/LimitedField";
import { useLetter } from "./LetterContext";

interface TokenFieldProps extends Omit<TextFieldProps, "onChange" | "value"> {
  value: string;
  onChange: (value: string) => void;
  /** Whether it is the address of a link: links of ours are offered too. */
  link?: boolean;
  /** How many characters it takes. */
  most?: number;
}

const OURS: [string, string][] = [
  ["file_link", "The file"],
  ["own_page", "Their own page"],
  ["confirm_link", "The link that confirms"],
];

/** A line in which fields can be put where the caret is, with a fallback to write. */
export function TokenField({ value, onChange: put, link, most, ...rest }: TokenFieldProps) {
  const { fields, readOnly } = useLetter();
  const input = useRef<HTMLInputElement>(null);
  const [cut, setCut] = useState(false);
  const onChange = (text: string) => {
    setCut(most !== undefined && text.length > most);
    put(text.slice(0, most));
  };
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const insert = (token: string, caret: number) => {
    setAnchor(null);
    const box = input.current;
    const at = box?.selectionStart ?? value.length;
    onChange(value.slice(0, at) + token + value.slice(box?.selectionEnd ?? at));
    window.setTimeout(() => {
      box?.focus();
      box?.setSelectionRange(at + caret, at + caret);
    });
  };
  return (
    <TextField
      {...rest}
      value={value}
      disabled={readOnly}
      inputRef={input}
      helperText={cut && most ? <span role="status">{cutWords(most)}</span> : rest.helperText}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{
        ...rest.slotProps,
        input: {
          endAdornment: !readOnly && (
            <InputAdornment position="end">
              <Button
                color="inherit"
                aria-haspopup="menu"
                aria-label={`Insert a field into ${typeof rest.label === "string" ? rest.label : "the text"}`}
                onClick={(event) => setAnchor(event.currentTarget)}
              >
                Field
              </Button>
              <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
                {link &&
                  OURS.map(([token, word]) => (
                    <MenuItem
                      key={token}
                      onClick={() => {
                        onChange(`{{ ${token} }}`);
                        setAnchor(null);
                      }}
                    >
                      {word}
                    </MenuItem>
                  ))}
                {fields.map((one) => (
                  <MenuItem
                    key={one.key}
                    onClick={() => {
                      const token = link ? `{{ ${one.key} }}` : `{{ ${one.key} | default: "" }}`;
                      insert(token, link ? token.length : token.length - 4);
                    }}
                  >
                    {one.label}
                  </MenuItem>
                ))}
              </Menu>
            </InputAdornment>
          ),
        },
      }}
    />
  );
}
