import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { NumberField } from "../../parts/NumberField";
import { Problem } from "../../parts/Problem";
import { Snippet } from "../../parts/Snippet";
import { Check } from "./Check";
import { EventRule } from "./EventRule";
import { LatestEvents } from "./LatestEvents";
import type { Service } from "./queries";
import type { ServiceSettings } from "./useServiceSettings";

/** What the service tells, where it tells it, and what that changes here. */
export function HearsBand(props: {
  service: Service;
  settings: ServiceSettings;
  readOnly: boolean;
}) {
  const { service, readOnly } = props;
  const { settings, change } = props.settings;
  const moments = useMoments();
  const leaves = service.heard_kinds.some((one) => one.leaves);
  return (
    <Band
      name="Sends us"
      id="tells"
      note={service.heard_at ? `last ${moments.moment(service.heard_at)}` : "nothing yet"}
    >
      {service.hear_address && (
        <BandRow>
          <Address service={service} readOnly={readOnly} />
        </BandRow>
      )}
      {service.poll_at && (
        <BandRow ruled>
          <Stack direction="row" spacing={2} sx={{ alignItems: "center", pt: 0.5 }}>
            <NumberField
              label="Check every (minutes)"
              value={settings.poll_minutes}
              min={1}
              max={1440}
              disabled={readOnly}
              onChange={(poll_minutes) => change({ poll_minutes })}
              sx={{ width: 170 }}
            />
            <Typography variant="body2" color="textSecondary">
              {new Date(service.poll_at).getTime() > moments.now().getTime()
                ? `Next check: ${moments.moment(service.poll_at)}`
                : "It is being checked."}
            </Typography>
          </Stack>
        </BandRow>
      )}
      {service.heard_kinds.map((kind) => {
        const rule = settings.hears[kind.type];
        return (
          rule && (
            <BandRow key={kind.type} ruled>
              <EventRule
                kind={kind}
                rule={rule}
                readOnly={readOnly}
                onChange={(next) => change({ hears: { ...settings.hears, [kind.type]: next } })}
              />
            </BandRow>
          )
        );
      })}
      <BandRow ruled>
        <Check
          label="Add people who are not here yet (they join no list)"
          checked={settings.hears_unknown}
          readOnly={readOnly}
          onChange={(checked) => change({ hears_unknown: checked })}
        />
        {leaves && (
          <Check
            label="Unsubscribing there unsubscribes here too"
            checked={settings.hears_leaving}
            readOnly={readOnly}
            onChange={(checked) => change({ hears_leaving: checked })}
          />
        )}
      </BandRow>
      <BandRow ruled>
        <LatestEvents service={service} />
      </BandRow>
    </Band>
  );
}

function Address({ service, readOnly }: { service: Service; readOnly: boolean }) {
  const workspace = useSlug();
  const [secret, setSecret] = useState("");
  const { attempt, failed } = useAttempt();
  const renew = async () => {
    await attempt(async () => {
      const made = await take(
        api.POST("/api/workspaces/{workspace}/services/{service}/hear-secret", {
          params: { path: { workspace, service: service.id } },
        }),
      );
      setSecret(made.secret);
    });
  };
  return (
    <>
      <Typography variant="body2">Give this address to the service, for its events:</Typography>
      <Snippet text={service.hear_address} label="Address for events" />
      {secret ? (
        <>
          <Typography variant="body2">
            And this secret, which its calls are signed with. It is shown once:
          </Typography>
          <Snippet text={secret} label="Signing secret" />
        </>
      ) : (
        !readOnly &&
        service.description.hearing?.signed === "standard" && (
          <Button onClick={() => void renew()}>Create a new signing secret</Button>
        )
      )}
      <Problem error={failed} />
    </>
  );
}
