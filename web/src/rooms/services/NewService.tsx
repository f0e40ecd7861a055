import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import { useServiceKinds } from "./queries";

const OWN = "own";

/** Connects a service: by a description that ships, or by one of your own. */
export function NewService({ onClose }: { onClose: () => void }) {
  const workspace = useSlug();
  const go = useNavigate();
  const reload = useReload();
  const { data: kinds } = useServiceKinds();
  const [kind, setKind] = useState("");
  const [name, setName] = useState("");
  const [purpose, setPurpose] = useState("");
  const [base, setBase] = useState("");
  const [own, setOwn] = useState("");
  const chosen = kinds?.find((one) => one.key === kind);
  const connect = useMutation({
    mutationFn: async () => {
      const description = kind === OWN ? await read(own, workspace) : null;
      return take(
        api.POST("/api/workspaces/{workspace}/services", {
          params: { path: { workspace } },
          body: { name, purpose, base, kind: kind === OWN ? "" : kind, description },
        }),
      );
    },
    onSuccess: async (made) => {
      await reload("services", "catalogue");
      await go(`/w/${workspace}/services/${made.id}`);
    },
    onError: () => undefined,
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Connect a service</DialogTitle>
      <DialogContent>
        <Stack spacing={2} sx={{ pt: 1 }}>
          <TextField
            select
            label="Which program"
            value={kind}
            onChange={(event) => {
              const next = kinds?.find((one) => one.key === event.target.value);
              setKind(event.target.value);
              setBase("");
              if (next && (name === "" || name === chosen?.name)) setName(next.name);
            }}
            helperText={chosen?.about}
          >
            {kinds?.map((one) => (
              <MenuItem key={one.key} value={one.key}>
                {one.name}
              </MenuItem>
            ))}
            <MenuItem value={OWN}>Another one, by its description or OpenAPI file</MenuItem>
          </TextField>
          {kind === OWN && (
            <>
              <Typography variant="body2" color="textSecondary">
                A description is a JSON document that says how the program is spoken to. An OpenAPI
                file makes the beginning of one.
              </Typography>
              <Button component="label" variant="outlined" sx={{ alignSelf: "flex-start" }}>
                Choose a file
                <input
                  hidden
                  type="file"
                  accept=".json,application/json"
                  onChange={(event) => void event.target.files?.[0]?.text().then(setOwn)}
                />
              </Button>
              <TextField
                label="Description or OpenAPI, as JSON"
                multiline
                minRows={4}
                maxRows={12}
                value={own}
                onChange={(event) => setOwn(event.target.value)}
              />
            </>
          )}
          {chosen?.needs_address && (
            <TextField
              label="Its address"
              placeholder={chosen.base}
              value={base}
              onChange={(event) => setBase(event.target.value)}
            />
          )}
          <TextField
            label="Name here"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <TextField
            label="What it is for (optional)"
            value={purpose}
            onChange={(event) => setPurpose(event.target.value)}
          />
        </Stack>
        <Problem error={connect.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={
            kind === "" ||
            name.trim() === "" ||
            (kind === OWN && own.trim() === "") ||
            (chosen?.needs_address === true && base.trim() === "") ||
            connect.isPending
          }
          onClick={() => connect.mutate()}
        >
          Connect
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** A description as it was written, or the beginning of one from an OpenAPI document. */
async function read(text: string, workspace: string): Promise<Schemas["ServiceDescription"]> {
  let found: unknown;
  try {
    found = JSON.parse(text);
  } catch {
    throw new Error("This is not JSON. Export the description, or the OpenAPI file, as JSON.");
  }
  if (typeof found === "object" && found !== null && "openapi" in found) {
    return take(
      api.POST("/api/workspaces/{workspace}/service-descriptions/from-openapi", {
        params: { path: { workspace } },
        body: { document: found },
      }),
    );
  }
  return found as Schemas["ServiceDescription"];
}
