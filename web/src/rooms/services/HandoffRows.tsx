import { counted, number, times } from "../../parts/formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { handoffQuery } from "../../api/services";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Because } from "../../parts/Because";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { StateWord } from "../../parts/StateWord";
import { mono } from "../../theme";
import { HANDOFF } from "./words";

type Handoff = Schemas["HandoffLine"];

/** Handoffs, a row each; one opens to what was sent and what came back. */
export function HandoffRows({ rows, names }: { rows: Handoff[]; names?: boolean }) {
  const [open, setOpen] = useState("");
  return (
    <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {rows.map((one) => (
        <Row
          key={one.id}
          handoff={one}
          names={names ?? false}
          open={open === one.id}
          onOpen={() => setOpen(open === one.id ? "" : one.id)}
        />
      ))}
    </Box>
  );
}

interface RowProps {
  handoff: Handoff;
  /** Whether the service is named, and not the person. */
  names: boolean;
  open: boolean;
  onOpen: () => void;
}

function Row({ handoff, names, open, onOpen }: RowProps) {
  const workspace = useSlug();
  const moments = useMoments();
  const state = HANDOFF[handoff.state];
  const who = handoff.address || "somebody who was erased";
  return (
    <Box component="li" sx={{ borderTop: 1, borderColor: "divider", py: 0.5 }}>
      <Stack
        direction="row"
        spacing={1.5}
        useFlexGap
        sx={{ alignItems: "baseline", flexWrap: { xs: "wrap", sm: "nowrap" } }}
      >
        <Typography variant="body2" color="textSecondary" sx={{ width: 132, flexShrink: 0 }}>
          {moments.moment(handoff.created_at)}
        </Typography>
        <Typography variant="body2" sx={{ width: 220, flexShrink: 0, overflowWrap: "anywhere" }}>
          {names ? (
            <Link to={`/w/${workspace}/services/${handoff.service}`}>{handoff.service_name}</Link>
          ) : handoff.person ? (
            <Link to={`/w/${workspace}/people/${handoff.person}`}>{who}</Link>
          ) : (
            who
          )}
          {handoff.is_test && " (test)"}
        </Typography>
        <Typography variant="body2" sx={{ width: 150, flexShrink: 0 }}>
          {handoff.operation}
        </Typography>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <StateWord state={state?.mark ?? "draft"} word={state?.word ?? handoff.state} />{" "}
          <Typography component="span" variant="body2" color="textSecondary">
            {handoff.outcome}
            {handoff.state === "waiting" &&
              handoff.tries > 0 &&
              ` Tried ${times(handoff.tries)}; next try ${moments.moment(handoff.due_at)}.`}
          </Typography>
        </Box>
        <Button aria-expanded={open} aria-label={`Details of ${who}`} onClick={onOpen}>
          {open ? "Close" : "Details"}
        </Button>
      </Stack>
      {open && <Details handoff={handoff} />}
    </Box>
  );
}

function Details({ handoff }: { handoff: Handoff }) {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const path = { workspace, handoff: handoff.id };
  const { data, error } = useQuery(handoffQuery(workspace, handoff));
  const again = useMutation({
    mutationFn: () =>
      take(api.POST("/api/workspaces/{workspace}/handoffs/{handoff}/again", { params: { path } })),
    onSuccess: () => reload("handoffs", "handoff", "service", "services", "snags"),
    onError: () => undefined,
  });
  const ended = ["failed", "not_possible", "not_allowed"].includes(handoff.state);
  const later =
    handoff.state === "waiting" && handoff.tries > 0 && new Date(handoff.due_at) > moments.now();
  return (
    <Box sx={{ pl: { sm: 18 }, pb: 1 }}>
      <Because because={handoff.because} />
      <Problem error={error ?? again.error} />
      {data && data.attempts.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          Nothing was sent {handoff.state === "done" ? "that is still kept" : "yet"}.
        </Typography>
      )}
      {data?.attempts.map((one, index) => (
        <Box key={index} sx={{ pt: 0.75 }}>
          <Typography variant="caption" color="textSecondary">
            {moments.moment(one.at)} · {one.what === "looks" ? "looked" : "sent"}, answered after{" "}
            {number(one.seconds, 2)} s
          </Typography>
          <Typography
            component="pre"
            sx={{
              fontFamily: mono,
              fontSize: 12.5,
              m: 0,
              whiteSpace: "pre-wrap",
              overflowWrap: "anywhere",
            }}
          >
            {one.request}
            {"\n→ "}
            {one.status ?? ""} {one.answer}
          </Typography>
        </Box>
      ))}
      <Stack direction="row" spacing={2} sx={{ alignItems: "center", pt: 0.5 }}>
        {data?.see && (
          <a href={data.see} target="_blank" rel="noreferrer">
            See it there
          </a>
        )}
        {mayChange && (ended || later) && !handoff.is_test && (
          <Button variant="outlined" disabled={again.isPending} onClick={() => again.mutate()}>
            {later ? "Try now" : "Hand over again"}
          </Button>
        )}
        {data && data.attempts.length > 1 && (
          <Typography variant="caption" color="textSecondary">
            {counted(data.attempts.length, "request", "requests")}
          </Typography>
        )}
      </Stack>
    </Box>
  );
}
