import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";

/** The saved message as one person would get it. */
export function Preview({ message, edits }: { message: string; edits: number }) {
  const workspace = useSlug();
  const [chosen, setChosen] = useState<string>();
  const { data: people } = useQuery({
    queryKey: ["people", workspace, "newest"],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/people", {
          params: { path: { workspace }, query: {} },
        }),
      ),
  });
  const person = chosen ?? people?.people[0]?.id ?? "nobody";
  const query: { person?: string } = person === "nobody" ? {} : { person };
  const { data } = useQuery({
    queryKey: ["preview", workspace, message, edits, person],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/messages/{message}/preview", {
          params: { path: { workspace, message }, query },
        }),
      ),
    enabled: people !== undefined,
    placeholderData: keepPreviousData,
  });
  const search = new URLSearchParams({ edits: String(edits) });
  if (query.person) search.set("person", query.person);
  return (
    <Box component="aside" aria-label="Preview" sx={{ pt: 1.75 }}>
      <TextField
        select
        label="As this person gets it"
        value={person}
        onChange={(event) => setChosen(event.target.value)}
      >
        <MenuItem value="nobody">Somebody with no data</MenuItem>
        {people?.people.slice(0, 25).map((one) => (
          <MenuItem key={one.id} value={one.id}>
            {one.name ? `${one.name}, ${one.address}` : one.address}
          </MenuItem>
        ))}
      </TextField>
      {data?.problem && (
        <Typography variant="body2" color="error" sx={{ mt: 1 }}>
          {data.problem.sentence} {data.problem.fix}
        </Typography>
      )}
      {data && data.holes.length > 0 && (
        <Typography variant="body2" color="warning" sx={{ mt: 1 }}>
          Nothing is known of {data.holes.join(", ")}, and there is no fallback: it would not be
          sent.
        </Typography>
      )}
      <Typography sx={{ mt: 1.5, fontWeight: 600 }}>{data?.subject || "no subject"}</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {data?.preheader}
      </Typography>
      <Box
        component="iframe"
        key={`${edits} ${person}`}
        title="The message"
        src={`/api/workspaces/${workspace}/messages/${message}/preview.html?${search.toString()}`}
        sx={{ width: "100%", height: 420, border: 1, borderColor: "divider", bgcolor: "#fff" }}
      />
    </Box>
  );
}
