import type { SxProps, Theme } from "@mui/material/styles";
import TextField from "@mui/material/TextField";
import { lazy, Suspense } from "react";

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

const PickerBox = lazy(() => import("./pickers"));

/** A box for a date, a time or both, as the member writes them; it is loaded when one is shown. */
export function DateBox(props: DateBoxProps) {
  const { label, value, helperText, sx } = props;
  return (
    <Suspense
      fallback={<TextField label={label} value={value} helperText={helperText} disabled sx={sx} />}
    >
      <PickerBox {...props} />
    </Suspense>
  );
}
