import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { previewQuery } from "../../api/messages";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { PersonPicker } from "../../parts/PersonPicker";
import { LetterFrame } from "./LetterFrame";

export type Way = "desktop" | "phone" | "dark" | "no-pictures" | "text" | "source";
const WAYS: [Way, string][] = [
  ["desktop", "Desktop"],
  ["phone", "Phone"],
  ["dark", "Dark mode"],
  ["no-pictures", "No pictures"],
  ["text", "Plain text"],
  ["source", "Source"],
];

/** Whom a preview is for, and how it is looked at. */
export interface Look {
  /** Nobody in particular: every block, and no data. */
  person: Schemas["PersonLine"] | null;
  way: Way;
}

interface PreviewPaneProps {
  message: string;
  edits: number;
  look: Look;
  onLook: (look: Look) => void;
  /** Pixels that are taken by what stands around it. */
  around: number;
  foot?: ReactNode;
}

/** A saved message as one person would get it, in one way of looking at it. */
export function PreviewPane({ message, edits, look, onLook, around, foot }: PreviewPaneProps) {
  const workspace = useSlug();
  const { person, way } = look;
  const query: { person?: string } = person ? { person: person.id } : {};
  const { data, isPlaceholderData } = useQuery({
    ...previewQuery(workspace, message, edits, query),
    placeholderData: keepPreviousData,
  });
  const search = new URLSearchParams({ edits: String(edits), ...query });
  if (way === "no-pictures") search.set("pictures", "false");
  const plain = way === "text" ? data?.text : way === "source" ? data?.html : undefined;
  const height = { xs: 560, lg: `calc(100vh - ${String(around)}px)` };
  return (
    <>
      <Stack direction="row" spacing={1}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <PersonPicker
            label="Preview for"
            none="Nobody: all blocks, no data"
            value={person}
            onChange={(chosen) => onLook({ ...look, person: chosen })}
          />
        </Box>
        <TextField
          select
          label="View"
          value={way}
          onChange={(event) => onLook({ ...look, way: event.target.value as Way })}
          sx={{ width: 150, flexShrink: 0 }}
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
          There is no value for {data.holes.join(", ")}, and no fallback: it would not be sent.
        </Typography>
      )}
      <Typography sx={{ mt: 1.5, fontWeight: 600 }}>{data?.subject || "no subject"}</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {data?.preheader}
      </Typography>
      {plain === undefined ? (
        <LetterFrame
          key={`${person?.id} ${way === "no-pictures"}`}
          title={`The message for ${person?.name || person?.address || "nobody in particular"}`}
          src={`/api/workspaces/${workspace}/messages/${message}/preview.html?${search.toString()}`}
          html={isPlaceholderData || data?.problem ? undefined : data?.html}
          dark={way === "dark"}
          width={way === "phone" ? 360 : "100%"}
          height={height}
        />
      ) : (
        <Box
          component="pre"
          tabIndex={0}
          aria-label={way === "text" ? "Plain text" : "Source"}
          sx={{
            m: 0,
            p: 1.5,
            height,
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
        {foot}
        <Typography variant="caption" color="textSecondary">
          {data && `${Math.max(1, Math.round(data.size / 1024))} KB of HTML`}
        </Typography>
      </Stack>
    </>
  );
}
