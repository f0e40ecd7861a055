import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band } from "../../parts/Band";
import { Problem } from "../../parts/Problem";
import { asSent, useMailSettings } from "./useMailSettings";

type Settings = Schemas["MailSettingsOut"];

/** How many emails go out within an hour. */
export function Pace() {
  const { data } = useMailSettings();
  return data ? <PaceForm key={JSON.stringify(data)} stored={data} /> : null;
}

function PaceForm({ stored }: { stored: Settings }) {
  const workspace = useSlug();
  const client = useQueryClient();
  const readOnly = !useMayChange();
  const [all, setAll] = useState(String(stored.hourly_emails ?? ""));
  const [each, setEach] = useState(String(stored.hourly_per_domain ?? ""));
  const [from, setFrom] = useState(stored.warms_up_from ?? "");
  const { attempt, failed, dismiss } = useAttempt();
  const number = (text: string) => (/^\d{1,8}$/.test(text.trim()) ? Number(text) : null);
  const next = {
    hourly_emails: number(all),
    hourly_per_domain: number(each),
    warms_up_from: from || null,
  };
  const changed =
    next.hourly_emails !== (stored.hourly_emails ?? null) ||
    next.hourly_per_domain !== (stored.hourly_per_domain ?? null) ||
    next.warms_up_from !== (stored.warms_up_from ?? null);
  const save = async () => {
    await attempt(async () => {
      const answer = await take(
        api.PUT("/api/workspaces/{workspace}/mail/settings", {
          params: { path: { workspace } },
          body: { ...asSent(stored), ...next },
        }),
      );
      client.setQueryData(["mail-settings", workspace], answer);
    });
  };
  return (
    <Band name="Sending limits" note="requested emails never wait">
      <Problem error={failed} onDismiss={dismiss} />
      <Stack
        direction="row"
        spacing={1.5}
        useFlexGap
        sx={{ flexWrap: "wrap", alignItems: "start" }}
      >
        <TextField
          label="Emails per hour"
          placeholder="no limit"
          value={all}
          disabled={readOnly}
          onChange={(event) => setAll(event.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ width: 150 }}
        />
        <TextField
          label="Per receiving domain"
          placeholder="no limit"
          value={each}
          disabled={readOnly}
          onChange={(event) => setEach(event.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ width: 150 }}
        />
        <TextField
          type="date"
          label="New sender since"
          value={from}
          disabled={readOnly}
          onChange={(event) => setFrom(event.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          helperText="200 an hour on the first day, twice as many each day, for two weeks"
          sx={{ width: 250 }}
        />
        {!readOnly && (
          <Button variant="outlined" disabled={!changed} onClick={() => void save()}>
            Save
          </Button>
        )}
      </Stack>
    </Band>
  );
}
