import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../../api/client";
import { useSlug } from "../../../api/workspace";
import { useMoments } from "../../../parts/moment";
import { mono } from "../../../theme";

/** The last calls of a webhook, as they came, each with what it was answered. */
export function Calls({ calls }: { calls: Schemas["CallOut"][] }) {
  const at = `/w/${useSlug()}`;
  const moments = useMoments();
  const [open, setOpen] = useState<string>();
  return (
    <>
      <Typography variant="h3" component="h3">
        Last calls
      </Typography>
      {calls.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          No call has come yet.
        </Typography>
      )}
      {calls.map((call) => (
        <Box key={call.id} sx={{ py: 0.25 }}>
          <Typography variant="body2" component="div">
            {moments.moment(call.at)} · answered {call.status}:{" "}
            <Box component="span" sx={{ color: call.status < 300 ? undefined : "error.main" }}>
              {call.outcome}
            </Box>{" "}
            {call.submission && <Link to={`${at}/submissions/${call.submission}`}>submission</Link>}
            <Button
              aria-expanded={open === call.id}
              onClick={() => setOpen(open === call.id ? undefined : call.id)}
            >
              As it came
            </Button>
          </Typography>
          {open === call.id && (
            <Box
              component="pre"
              sx={{
                m: 0,
                p: 1,
                border: 1,
                borderColor: "divider",
                fontFamily: mono,
                fontSize: "0.8125rem",
                whiteSpace: "pre-wrap",
                overflowWrap: "anywhere",
                maxHeight: 260,
                overflow: "auto",
              }}
            >
              {Object.entries(call.headers)
                .map(([name, value]) => `${name}: ${value}\n`)
                .join("")}
              {"\n"}
              {call.body}
            </Box>
          )}
        </Box>
      ))}
    </>
  );
}
