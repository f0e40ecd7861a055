import type { SxProps, Theme } from "@mui/material/styles";

export interface DateBoxProps {
  /** A date as 2026-11-24, a time as 09:00, or a moment as 2026-11-24T09:00. */
  kind: "date" | "time" | "moment";
  label: string;
  /** Empty: none. */
  value: string;
  disabled?: boolean;
  helperText?: string;
  sx?: SxProps<Theme>;
  onChange: (value: string) => void;
}
