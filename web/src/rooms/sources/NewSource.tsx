import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, ApiError, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import { KINDS } from "./kinds";
import type { Kind } from "./routeDocument";

/** Makes a source; its name is asked first, then how people come in. */
export function NewSource({ onClose }: { onClose: () => void }) {
  const workspace = useSlug();
  const reload = useReload();
  const go = useNavigate();
  const [name, setName] = useState("");
  const [kind, setKind] = useState<Kind>("form");
  const { attempt, failed: error, busy } = useAttempt();
  const wrong = error instanceof ApiError ? error.at("name") : undefined;
  const make = async () => {
    await attempt(async () => {
      const made = await take(
        api.POST("/api/workspaces/{workspace}/sources", {
          params: { path: { workspace } },
          body: { name, kind },
        }),
      );
      await reload("sources", "desk");
      await go(`/w/${workspace}/sources/${made.id}`);
    });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <DialogTitle>New source</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            label="What is it for?"
            value={name}
            onChange={(event) => setName(event.target.value)}
            helperText={
              wrong ??
              "Name what the visitor gets, or where it comes from: “First telescope guide”."
            }
            error={Boolean(wrong)}
            sx={{ mt: 1, mb: 2 }}
          />
          <RadioGroup
            aria-label="How people come in"
            value={kind}
            onChange={(_, value) => setKind(value as Kind)}
          >
            {(Object.keys(KINDS) as Kind[]).map((one) => (
              <FormControlLabel
                key={one}
                value={one}
                control={<Radio size="small" />}
                label={
                  <>
                    {KINDS[one].name.charAt(0).toUpperCase() + KINDS[one].name.slice(1)}{" "}
                    <Typography component="span" variant="body2" color="textSecondary">
                      {KINDS[one].says}
                    </Typography>
                  </>
                }
              />
            ))}
          </RadioGroup>
          {!wrong && <Problem error={error} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy || !name.trim()}>
            Make the {KINDS[kind].name}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
