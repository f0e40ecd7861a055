import { useAttempt } from "../../api/useAttempt";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { domainsQuery } from "../../api/messages";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug, useWorkspace } from "../../api/workspace";
import { Band } from "../../parts/Band";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { Snippet } from "../../parts/Snippet";

type Domain = Schemas["DomainOut"];
const STATES: Record<Schemas["DnsLine"]["state"], [string, string]> = {
  good: ["good", "success.main"],
  missing: ["missing", "error.main"],
  wrong: ["wrong", "error.main"],
  unknown: ["not checked", "warning.main"],
};

/** The domains that emails are sent from: the records that receivers look for, and signing. */
export function SendingDomains() {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const reload = useReload();
  const { data: settings } = useWorkspace();
  const { attempt, failed, dismiss } = useAttempt();
  const [typed, setTyped] = useState<string>();
  const [busy, setBusy] = useState("");
  const { data } = useQuery(domainsQuery(workspace));
  const act = async (which: string, asked: () => Promise<unknown>) => {
    setBusy(which);
    await attempt(async () => {
      await asked();
      await reload("sending-domains");
      setTyped(undefined);
    });
    setBusy("");
  };
  const own = settings?.sender_address.split("@")[1] ?? "";
  const domain = typed ?? (data?.some((one) => one.domain === own) ? "" : own);
  return (
    <Band name="Sending domains" note="what receivers look for">
      <Problem error={failed} onDismiss={dismiss} />
      {data?.map((one) => (
        <DomainLines
          key={one.id}
          domain={one}
          busy={busy === one.id}
          readOnly={!mayChange}
          onCheck={() =>
            act(one.id, () =>
              take(
                api.POST("/api/workspaces/{workspace}/mail/domains/{domain}/check", {
                  params: { path: { workspace, domain: one.id } },
                }),
              ),
            )
          }
          onSign={(signs) =>
            act(one.id, () =>
              take(
                api.PUT("/api/workspaces/{workspace}/mail/domains/{domain}", {
                  params: { path: { workspace, domain: one.id } },
                  body: { signs },
                }),
              ),
            )
          }
          onRemove={() =>
            act(one.id, () =>
              take(
                api.DELETE("/api/workspaces/{workspace}/mail/domains/{domain}", {
                  params: { path: { workspace, domain: one.id } },
                }),
              ),
            )
          }
        />
      ))}
      {mayChange && (
        <Stack direction="row" spacing={1} sx={{ maxWidth: 480, mt: 1, alignItems: "flex-end" }}>
          <TextField
            label="Domain"
            placeholder="example.org"
            value={domain}
            onChange={(event) => setTyped(event.target.value)}
          />
          <Button
            variant="outlined"
            disabled={!domain.trim() || busy === "new"}
            onClick={() =>
              void act("new", () =>
                take(
                  api.POST("/api/workspaces/{workspace}/mail/domains", {
                    params: { path: { workspace } },
                    body: { domain },
                  }),
                ),
              )
            }
          >
            Add domain
          </Button>
        </Stack>
      )}
    </Band>
  );
}

function DomainLines(props: {
  domain: Domain;
  busy: boolean;
  readOnly: boolean;
  onCheck: () => Promise<void>;
  onSign: (signs: boolean) => Promise<void>;
  onRemove: () => Promise<void>;
}) {
  const { domain, busy, readOnly, onCheck, onSign, onRemove } = props;
  const moments = useMoments();
  return (
    <Box sx={{ mb: 2, maxWidth: 1120 }}>
      <Stack direction="row" spacing={1} useFlexGap sx={{ alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="h3" component="h3">
          {domain.domain}
        </Typography>
        <Typography variant="body2" color={domain.signs ? "success" : "textSecondary"}>
          {domain.signs ? "emails are signed" : "emails are not signed"}
        </Typography>
        <Typography variant="caption" color="textSecondary">
          {domain.checked_at ? `checked ${moments.moment(domain.checked_at)}` : "never checked"}
        </Typography>
        {!readOnly && (
          <>
            <Button variant="outlined" disabled={busy} onClick={() => void onCheck()}>
              Check now
            </Button>
            {domain.signs ? (
              <Button onClick={() => void onSign(false)}>Stop signing</Button>
            ) : (
              <Button disabled={!domain.can_sign} onClick={() => void onSign(true)}>
                Sign emails
              </Button>
            )}
            <Button color="inherit" onClick={() => void onRemove()}>
              Remove
            </Button>
          </>
        )}
      </Stack>
      {domain.lines.map((line) => {
        const [word, colour] = STATES[line.state];
        return (
          <Box
            key={line.name + line.type + line.value}
            sx={{
              display: "grid",
              gridTemplateColumns: { xs: "minmax(0,1fr)", md: "100px minmax(0,1fr)" },
              columnGap: 2,
              py: 1,
              borderTop: 1,
              borderColor: "divider",
            }}
          >
            <Typography variant="body2" sx={{ color: colour, fontWeight: 600 }}>
              {word}
            </Typography>
            <div>
              <Typography variant="body2">{line.what}</Typography>
              {line.note && (
                <Typography variant="body2" sx={{ color: colour }}>
                  {line.note}
                </Typography>
              )}
              {line.state !== "good" && (
                <>
                  <Typography variant="caption" color="textSecondary">
                    {line.type} record at {line.name}
                  </Typography>
                  <Snippet text={line.value} label={`${line.type} record of ${line.name}`} />
                </>
              )}
            </div>
          </Box>
        );
      })}
    </Box>
  );
}
