import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { BandRow } from "../../../parts/Band";
import { Snippet } from "../../../parts/Snippet";
import { plainHtml } from "./plainHtml";
import type { Edit } from "../routeDocument";

type Form = Schemas["Form"];
type PopUp = Form["pop_up"];

const OPENS: Record<PopUp["opens"], string> = {
  seconds: "after some seconds",
  scroll: "when the page was scrolled so far",
  leaving: "when somebody is about to leave",
  button: "by a button in the page",
};

interface WaysToShowProps {
  source: Schemas["SourceOut"];
  form: Form;
  edit: Edit;
  readOnly: boolean;
}

/** A page of its own, a piece of another page, a pop-up, a screen that visitors share. */
export function WaysToShow({ source, form, edit, readOnly }: WaysToShowProps) {
  const [open, setOpen] = useState(false);
  const base = new URL(source.address).origin;
  const script = (more: string) =>
    `<script src="${base}/static/public/embed.js" data-form="${source.key}"${more} async></script>`;
  const set = (change: Partial<Form>) =>
    edit((route) => ({ ...route, form: { ...route.form, ...change } }));
  const popUp = form.pop_up;
  const setPopUp = (change: Partial<PopUp>) => set({ pop_up: { ...popUp, ...change } });
  const number = (text: string, most: number) => Math.min(most, Math.max(0, Number(text) || 0));
  return (
    <BandRow ruled id="ways">
      <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography>
          Ways to show it{" "}
          <Typography component="span" variant="body2" color="textSecondary">
            own page, in another page, pop-up{form.shared_screen && ", shared screen"}
          </Typography>
        </Typography>
        <Button sx={{ ml: "auto !important" }} onClick={() => setOpen(!open)}>
          {open ? "Done with the ways" : "Show ways"}
        </Button>
      </Stack>
      {open && (
        <Stack spacing={1} sx={{ py: 1 }}>
          <Snippet label="A page of its own" text={source.address} />
          <Snippet label="In another page, in this form’s own style" text={script("")} />
          <Snippet label="In a page that allows no script" text={plainHtml(form, source.address)} />
          <Snippet label="As a pop-up" text={script(' data-show="pop-up"')} />
          <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap", pb: 1 }}>
            <TextField
              select
              label="The pop-up opens"
              value={popUp.opens}
              disabled={readOnly}
              onChange={(event) => setPopUp({ opens: event.target.value as PopUp["opens"] })}
              sx={{ width: 260 }}
            >
              {Object.entries(OPENS).map(([key, label]) => (
                <MenuItem key={key} value={key}>
                  {label}
                </MenuItem>
              ))}
            </TextField>
            {(popUp.opens === "seconds" || popUp.opens === "scroll") && (
              <TextField
                label={popUp.opens === "seconds" ? "Seconds" : "Per cent scrolled"}
                value={popUp.after}
                disabled={readOnly}
                onChange={(event) =>
                  setPopUp({
                    after: number(event.target.value, popUp.opens === "scroll" ? 100 : 600),
                  })
                }
                sx={{ width: 130 }}
              />
            )}
            {popUp.opens === "button" ? (
              <TextField
                label="Words on the button"
                value={popUp.button}
                disabled={readOnly}
                onChange={(event) => setPopUp({ button: event.target.value })}
                sx={{ width: 200 }}
              />
            ) : (
              <TextField
                label="Not again for (days)"
                value={popUp.not_again}
                disabled={readOnly}
                onChange={(event) => setPopUp({ not_again: number(event.target.value, 365) })}
                sx={{ width: 150 }}
              />
            )}
          </Stack>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={form.shared_screen}
                disabled={readOnly}
                onChange={(event) => set({ shared_screen: event.target.checked })}
              />
            }
            label="May be opened on a screen that visitors share: nothing is remembered between two"
          />
          {form.shared_screen && (
            <Snippet label="For the shared screen" text={`${source.address}/kiosk`} />
          )}
        </Stack>
      )}
    </BandRow>
  );
}
