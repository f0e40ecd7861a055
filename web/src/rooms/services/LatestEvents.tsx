import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { heardQuery } from "../../api/services";
import { useSlug } from "../../api/workspace";
import { useMoments } from "../../parts/moment";
import type { Service } from "./queries";

const REFUSED = "!refused";
const FIRST = 8;

/** What the service told last, and what became of each; of one kind where one is chosen. */
export function LatestEvents({ service }: { service: Service }) {
  const workspace = useSlug();
  const moments = useMoments();
  const [shown, setShown] = useState("");
  const [all, setAll] = useState(false);
  const labels = new Map(service.heard_kinds.map((one) => [one.type, one.label]));
  const { data } = useQuery({
    ...heardQuery(workspace, service.id, shown, shown === REFUSED),
    placeholderData: keepPreviousData,
    refetchInterval: 10_000,
  });
  if (!data) return null;
  return (
    <>
      <Stack direction="row" spacing={2} sx={{ alignItems: "center", mb: 0.5 }}>
        <Typography variant="body2" sx={{ fontWeight: 600 }}>
          Latest events
        </Typography>
        <TextField
          select
          hiddenLabel
          value={shown}
          onChange={(event) => {
            setShown(event.target.value);
            setAll(false);
          }}
          slotProps={{
            select: { displayEmpty: true },
            htmlInput: { "aria-label": "Which events are shown" },
          }}
          sx={{ minWidth: 180 }}
        >
          <MenuItem value="">All</MenuItem>
          {service.heard_kinds.map((one) => (
            <MenuItem key={one.type} value={one.type}>
              {one.label}
            </MenuItem>
          ))}
          <MenuItem value={REFUSED}>Refused calls</MenuItem>
        </TextField>
      </Stack>
      {data.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          {shown ? "None yet." : "Nothing came yet."}
        </Typography>
      )}
      {data.slice(0, all ? undefined : FIRST).map((one) => (
        <Stack key={one.id} direction="row" spacing={1.5} sx={{ py: 0.25 }}>
          <Typography variant="body2" color="textSecondary" sx={{ width: 132, flexShrink: 0 }}>
            {moments.moment(one.at)}
          </Typography>
          <Typography variant="body2" color={COLOURS[one.state]} sx={{ overflowWrap: "anywhere" }}>
            {[labels.get(one.type) ?? one.type, one.outcome].filter(Boolean).join(" · ")}{" "}
            {one.person && <Link to={`/w/${workspace}/people/${one.person}`}>the person</Link>}
          </Typography>
        </Stack>
      ))}
      {!all && data.length > FIRST && (
        <Button onClick={() => setAll(true)}>Show {data.length - FIRST} more</Button>
      )}
    </>
  );
}

const COLOURS: Record<string, string> = { refused: "error", ignored: "textSecondary" };
