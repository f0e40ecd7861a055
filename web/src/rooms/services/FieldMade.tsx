import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import type { Service } from "./queries";
import { FAR_TYPES } from "./words";

type FarType = Schemas["FarField"]["type"];

/** Makes a field over there, without leaving the map. */
export function FieldMade({
  service,
  onClose,
  onMade,
}: {
  service: Service;
  onClose: () => void;
  onMade: (key: string) => void;
}) {
  const workspace = useSlug();
  const reload = useReload();
  const [label, setLabel] = useState("");
  const [type, setType] = useState<FarType>("text");
  const [choices, setChoices] = useState("");
  const known = Object.values(service.description.read_fields.types);
  const types = (Object.keys(FAR_TYPES) as FarType[]).filter(
    (one) => known.length === 0 || known.includes(one),
  );
  const make = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/fields", {
          params: { path: { workspace, service: service.id } },
          body: { label, type, key: "", choices: choices.split("\n").filter((one) => one.trim()) },
        }),
      ),
    onSuccess: async (made) => {
      await reload("service", "services", "catalogue", "source");
      onMade(made.key);
      onClose();
    },
    onError: () => undefined,
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>Create a field in {service.name}</DialogTitle>
      <DialogContent>
        <Stack spacing={2} sx={{ pt: 1 }}>
          <TextField
            autoFocus
            label="Name"
            value={label}
            onChange={(event) => setLabel(event.target.value)}
          />
          <TextField
            select
            label="Type"
            value={type}
            onChange={(event) => setType(event.target.value as FarType)}
          >
            {types.map((one) => (
              <MenuItem key={one} value={one}>
                {FAR_TYPES[one]}
              </MenuItem>
            ))}
          </TextField>
          {(type === "choice" || type === "choices") && (
            <TextField
              label="Choices, one on each line"
              multiline
              minRows={3}
              value={choices}
              onChange={(event) => setChoices(event.target.value)}
            />
          )}
        </Stack>
        <Problem error={make.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={label.trim() === "" || make.isPending}
          onClick={() => make.mutate()}
        >
          Create
        </Button>
      </DialogActions>
    </Dialog>
  );
}
