import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take } from "../../api/client";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { Picker } from "../../parts/Picker";
import { Problem } from "../../parts/Problem";
import { Check } from "./Check";
import { useServiceAct, type Service } from "./queries";
import type { ServiceSettings } from "./useServiceSettings";
import { SECRETS } from "./words";

/** How it signs in, whether that works, and whom it may be given. */
export function ConnectionBand(props: {
  service: Service;
  settings: ServiceSettings;
  readOnly: boolean;
}) {
  const { service, readOnly } = props;
  const { settings, change } = props.settings;
  const moments = useMoments();
  const { data: catalogue } = useCatalogue();
  const marketing = service.description.operations.some((one) => one.marketing);
  const erases = service.description.operations.some((one) => one.does === "erase");
  const leaves = service.description.operations.some((one) => one.does === "unsubscribe");
  return (
    <Band name="Connection" id="connection" note={service.kind}>
      <BandRow>
        <Typography>{found(service)}</Typography>
        <Typography variant="caption" color="textSecondary">
          {service.description.base}
          {service.checked_at && ` · tried ${moments.moment(service.checked_at)}`}
        </Typography>
        {service.trouble && service.state !== "new" && (
          <Typography variant="body2" color="error" role="alert">
            {service.trouble}
            {service.open_until && ` It is tried again after ${moments.time(service.open_until)}.`}
          </Typography>
        )}
        {!readOnly && <SignIn service={service} />}
      </BandRow>
      {marketing && catalogue && (
        <BandRow ruled>
          <Stack
            direction="row"
            spacing={2}
            useFlexGap
            sx={{ flexWrap: "wrap", alignItems: "center", pt: 0.5 }}
          >
            <Stack sx={{ width: 260 }}>
              <Picker
                label="Hand over subscribers of"
                options={catalogue.lists}
                value={settings.list_id ?? null}
                disabled={readOnly}
                onChange={(list_id) => change({ list_id })}
              />
            </Stack>
            <Typography variant="body2" color="textSecondary" sx={{ flex: 1, minWidth: 240 }}>
              Only people who are subscribed to this list are put on marketing lists over there.
            </Typography>
          </Stack>
        </BandRow>
      )}
      {(leaves || erases) && (
        <BandRow ruled>
          {leaves && (
            <Check
              label="Unsubscribe people there when they leave the list here"
              checked={settings.passes_leaving}
              readOnly={readOnly}
              onChange={(checked) => change({ passes_leaving: checked })}
            />
          )}
          {erases && (
            <Check
              label="Erase people there when they are erased here"
              checked={settings.passes_erasing}
              readOnly={readOnly}
              onChange={(checked) => change({ passes_erasing: checked })}
            />
          )}
        </BandRow>
      )}
    </Band>
  );
}

function found(service: Service): string {
  if (service.state === "new") return "Not tried yet.";
  const parts = [service.account ? `Signed in as ${service.account}` : "It answers"];
  for (const kind of service.description.things) {
    const label = kind.label.toLowerCase();
    parts.push(counted(service.things[kind.kind]?.length ?? 0, label, `${label}s`));
  }
  if (service.hands_over) parts.push(counted(service.fields.length, "field", "fields"));
  return service.state === "working" ? `${parts.join(", ")}.` : "It does not sign in.";
}

function SignIn({ service }: { service: Service }) {
  const workspace = useSlug();
  const act = useServiceAct(service.id);
  const { kind } = service.description.sign_in;
  const names = SECRETS[kind];
  const [editing, setEditing] = useState(false);
  const [values, setValues] = useState<Record<string, string>>({});
  const { attempt, failed } = useAttempt();
  const lacking = names.some(([name]) => !service.has_secrets.includes(name));
  const open = editing || lacking;
  const keep = () =>
    act.mutate(
      (path) =>
        take(
          api.PUT("/api/workspaces/{workspace}/services/{service}/secrets", {
            params: { path },
            body: { values },
          }),
        ),
      {
        onSuccess: () => {
          setValues({});
          setEditing(false);
        },
      },
    );
  const agree = async () => {
    await attempt(async () => {
      const { at } = await take(
        api.POST("/api/workspaces/{workspace}/services/{service}/agree", {
          params: { path: { workspace, service: service.id } },
        }),
      );
      window.location.assign(at);
    });
  };
  return (
    <Stack spacing={1} sx={{ pt: 1 }}>
      {names.length > 0 && open && (
        <Stack
          component="form"
          direction="row"
          spacing={1}
          useFlexGap
          sx={{ flexWrap: "wrap", alignItems: "center" }}
          onSubmit={(event) => {
            event.preventDefault();
            keep();
          }}
        >
          {names.map(([name, label]) => (
            <TextField
              key={name}
              label={label}
              type={name === "name" || name === "client_id" ? "text" : "password"}
              autoComplete="off"
              value={values[name] ?? ""}
              placeholder={service.has_secrets.includes(name) ? "kept; type to replace" : ""}
              onChange={(event) => setValues({ ...values, [name]: event.target.value })}
              sx={{ width: 260 }}
            />
          ))}
          <Button
            type="submit"
            variant="contained"
            disabled={act.isPending || !Object.values(values).some((one) => one.trim())}
          >
            {act.isPending ? "Trying …" : "Save and try"}
          </Button>
          {!lacking && <Button onClick={() => setEditing(false)}>Cancel</Button>}
        </Stack>
      )}
      <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
        {names.length > 0 && !open && (
          <Button onClick={() => setEditing(true)}>Replace the key</Button>
        )}
        {kind === "oauth_code" && !lacking && (
          <Button
            variant={service.has_secrets.includes("access_token") ? "text" : "contained"}
            onClick={() => void agree()}
          >
            Sign in over there
          </Button>
        )}
        {!lacking && (
          <Button
            disabled={act.isPending}
            onClick={() =>
              act.mutate((path) =>
                take(
                  api.POST("/api/workspaces/{workspace}/services/{service}/try", {
                    params: { path },
                  }),
                ),
              )
            }
          >
            Try it
          </Button>
        )}
      </Stack>
      <Typography variant="caption" color="textSecondary">
        {names.length > 0 && "Keys are stored encrypted, and never shown again."}
      </Typography>
      <Problem error={act.error ?? failed} />
    </Stack>
  );
}
