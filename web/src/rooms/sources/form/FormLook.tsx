import { useAttempt } from "../../../api/useAttempt";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take, type Schemas } from "../../../api/client";
import { useSlug } from "../../../api/workspace";
import { NumberField } from "../../../parts/NumberField";
import { BandRow } from "../../../parts/Band";
import { FindingsAt } from "../../../parts/Findings";
import { Problem } from "../../../parts/Problem";
import type { Edit } from "../routeDocument";

type Form = Schemas["Form"];
type Style = NonNullable<Form["style"]>;

const PLAIN: Style = {
  paper: "#FFFFFF",
  ink: "#22282B",
  accent: "#1D5B4F",
  corners: 4,
  font: "plain",
};
const FONTS: Record<Style["font"], string> = {
  plain: "the visitor’s own",
  legible: "Atkinson Hyperlegible",
  serif: "with serifs",
  mono: "typewriter",
};
const COLOURS: [keyof Pick<Style, "paper" | "ink" | "accent">, string][] = [
  ["paper", "Paper"],
  ["ink", "Text"],
  ["accent", "Button"],
];

interface FormLookProps {
  form: Form;
  edit: Edit;
  findings: Schemas["Finding"][];
  readOnly: boolean;
}

/** Colours, corners, font and picture of a form; without them it follows the visitor's screen. */
export function FormLook({ form, edit, findings, readOnly }: FormLookProps) {
  const workspace = useSlug();
  const [open, setOpen] = useState(false);
  const { attempt, failed } = useAttempt();
  const style = form.style ?? PLAIN;
  const set = (change: Partial<Form>) =>
    edit((route) => ({ ...route, form: { ...route.form, ...change } }));
  const paint = (change: Partial<Style>) => set({ style: { ...style, ...change } });
  const keep = async (file: File | undefined) => {
    if (!file) return;
    await attempt(async () => {
      const made = await take(
        api.POST("/api/workspaces/{workspace}/pictures", {
          params: { path: { workspace } },
          body: file as never,
          bodySerializer: (body: unknown) => body as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      );
      set({ picture: made.id });
    });
  };
  const looks = form.style
    ? `own colours, corners ${style.corners}, font ${FONTS[style.font]}`
    : "follows the visitor’s light or dark";
  return (
    <BandRow ruled id="style">
      <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography>
          Look{" "}
          <Typography component="span" variant="body2" color="textSecondary">
            {looks}
            {form.picture && ", with a picture"}
          </Typography>
        </Typography>
        {!readOnly && (
          <Button sx={{ ml: "auto !important" }} onClick={() => setOpen(!open)}>
            {open ? "Done with the look" : "Edit look"}
          </Button>
        )}
      </Stack>
      {open && (
        <Stack spacing={1.5} sx={{ py: 1 }}>
          <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
            {COLOURS.map(([key, label]) => (
              <TextField
                key={key}
                type="color"
                label={label}
                value={style[key]}
                onChange={(event) => paint({ [key]: event.target.value.toUpperCase() })}
                sx={{ width: 96 }}
                slotProps={{ inputLabel: { shrink: true } }}
              />
            ))}
            <NumberField
              label="Corners (pixels)"
              value={style.corners}
              min={0}
              max={24}
              onChange={(corners) => paint({ corners })}
              sx={{ width: 130 }}
            />
            <TextField
              select
              label="Font"
              value={style.font}
              onChange={(event) => paint({ font: event.target.value as Style["font"] })}
              sx={{ width: 200 }}
            >
              {Object.entries(FONTS).map(([key, label]) => (
                <MenuItem key={key} value={key}>
                  {label}
                </MenuItem>
              ))}
            </TextField>
            {form.style && (
              <Button onClick={() => set({ style: null })}>Follow the visitor’s screen</Button>
            )}
          </Stack>
          <Stack direction="row" spacing={1.5} useFlexGap sx={{ alignItems: "center" }}>
            {form.picture && (
              <Box
                component="img"
                src={`/pictures/${form.picture}`}
                alt=""
                sx={{ height: 56, border: 1, borderColor: "divider" }}
              />
            )}
            <Button component="label" variant="outlined">
              {form.picture ? "Another picture" : "Add a picture"}
              <input
                hidden
                type="file"
                accept="image/png,image/jpeg,image/webp"
                onChange={(event) => void keep(event.target.files?.[0])}
              />
            </Button>
            {form.picture && (
              <>
                <TextField
                  label="What it shows, for those who do not see it"
                  value={form.picture_says}
                  onChange={(event) => set({ picture_says: event.target.value })}
                />
                <Button color="inherit" onClick={() => set({ picture: null })}>
                  Remove
                </Button>
              </>
            )}
          </Stack>
          <Problem error={failed} />
        </Stack>
      )}
      <FindingsAt findings={findings} place="style" />
    </BandRow>
  );
}
