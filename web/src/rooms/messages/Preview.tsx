import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";

type Way = "desktop" | "phone" | "dark" | "no-pictures" | "text" | "source";
const WAYS: [Way, string][] = [
  ["desktop", "Desktop"],
  ["phone", "Phone"],
  ["dark", "Dark mode"],
  ["no-pictures", "No pictures"],
  ["text", "Plain text"],
  ["source", "Source"],
];

interface PreviewProps {
  message: string;
  edits: number;
  /** Who is signed in, and gets the test. */
  to: string;
}

/** The saved message as one person would get it, in several ways of looking at it. */
export function Preview({ message, edits, to }: PreviewProps) {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const [chosen, setChosen] = useState<string>();
  const [way, setWay] = useState<Way>("desktop");
  const [sent, setSent] = useState<unknown>();
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
  if (way === "no-pictures") search.set("pictures", "false");
  const tryIt = async () => {
    try {
      await take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/try", {
          params: { path: { workspace, message } },
          body: { person: query.person ?? null },
        }),
      );
      setSent("sent");
    } catch (error) {
      setSent(error);
    }
  };
  const plain = way === "text" ? data?.text : way === "source" ? data?.html : undefined;
  return (
    <Box
      component="aside"
      aria-label="Preview"
      sx={{
        pt: 1.75,
        minWidth: 0,
        alignSelf: "start",
        position: { lg: "sticky" },
        top: { lg: 76 },
      }}
    >
      <Stack direction="row" spacing={1}>
        <TextField
          select
          label="Preview for"
          value={person}
          onChange={(event) => setChosen(event.target.value)}
        >
          <MenuItem value="nobody">Nobody: all blocks, no data</MenuItem>
          {people?.people.slice(0, 25).map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {one.name ? `${one.name}, ${one.address}` : one.address}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="View"
          value={way}
          onChange={(event) => setWay(event.target.value as Way)}
          sx={{ width: 190, flexShrink: 0 }}
        >
          {WAYS.map(([key, word]) => (
            <MenuItem key={key} value={key}>
              {word}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
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
      {plain === undefined ? (
        <Box
          component="iframe"
          key={`${edits} ${person} ${way}`}
          title="The message"
          src={`/api/workspaces/${workspace}/messages/${message}/preview.html?${search.toString()}`}
          sx={{
            display: "block",
            width: way === "phone" ? 360 : "100%",
            maxWidth: "100%",
            height: { xs: 560, lg: "calc(100vh - 250px)" },
            border: 1,
            borderColor: "divider",
            bgcolor: "#fff",
            colorScheme: way === "dark" ? "dark" : "light",
          }}
        />
      ) : (
        <Box
          component="pre"
          tabIndex={0}
          aria-label={way === "text" ? "Plain text" : "Source"}
          sx={{
            m: 0,
            p: 1.5,
            height: { xs: 560, lg: "calc(100vh - 250px)" },
            overflow: "auto",
            whiteSpace: "pre-wrap",
            overflowWrap: "anywhere",
            border: 1,
            borderColor: "divider",
            bgcolor: "background.paper",
            fontSize: 13,
          }}
        >
          {plain}
        </Box>
      )}
      <Stack direction="row" spacing={1} sx={{ mt: 1, alignItems: "center" }}>
        {mayChange && (
          <Button variant="outlined" onClick={() => void tryIt()}>
            Send it to me
          </Button>
        )}
        <Typography variant="caption" color="textSecondary" role="status">
          {sent === "sent"
            ? `On its way to ${to}, marked as a test.`
            : data && `${Math.max(1, Math.round(data.size / 1024))} KB of HTML`}
        </Typography>
      </Stack>
      {sent !== undefined && sent !== "sent" && <Problem error={sent} />}
    </Box>
  );
}
