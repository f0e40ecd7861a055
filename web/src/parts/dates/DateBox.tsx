import TextField from "@mui/material/TextField";
import { lazy, Suspense } from "react";
import type { DateBoxProps } from "./dateBoxProps";

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
