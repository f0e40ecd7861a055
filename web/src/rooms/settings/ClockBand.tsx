import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";

const STEPS: [string, number][] = [
  ["an hour", 3_600_000],
  ["a day", 86_400_000],
  ["a week", 604_800_000],
];

/** The clock of the workspace, which demo and tests can move forward. */
export function ClockBand({ now, outside }: { now: string; outside: string }) {
  const workspace = useSlug();
  const moments = useMoments();
  const client = useQueryClient();
  const mayChange = useMayChange();
  const { attempt, failed: error } = useAttempt();
  const [busy, setBusy] = useState(false);
  const move = async (by: number) => {
    setBusy(true);
    await attempt(async () => {
      const { now: from } = await take(
        api.GET("/api/workspaces/{workspace}", { params: { path: { workspace } } }),
      );
      const to = new Date(new Date(from).getTime() + by).toISOString();
      await take(
        api.POST("/api/workspaces/{workspace}/clock", {
          params: { path: { workspace } },
          body: { to },
        }),
      );
      await client.invalidateQueries();
    });
    setBusy(false);
  };
  return (
    <Band name="Clock" note="demo and tests">
      <BandRow>
        <Typography sx={{ mb: 1 }}>
          It is {moments.day(now)}, {moments.time(now)} in this workspace. Moving the clock forward
          lets everything happen that is due on the way.
        </Typography>
        {mayChange && (
          <Stack direction="row" spacing={1}>
            {STEPS.map(([label, by]) => (
              <Button key={label} variant="outlined" disabled={busy} onClick={() => void move(by)}>
                Forward {label}
              </Button>
            ))}
          </Stack>
        )}
        <Problem error={error} />
        {outside && (
          <Typography variant="body2" sx={{ mt: 1 }}>
            <Link href={outside} target="_blank" rel="noreferrer">
              Open the outside world
            </Link>{" "}
            to see the inboxes and the website.
          </Typography>
        )}
      </BandRow>
    </Band>
  );
}
