import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { newestPeopleQuery } from "../../api/people";
import { api, take } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import { PreviewPane, type Look } from "./PreviewPane";
import { SideBySide } from "./SideBySide";

interface PreviewProps {
  message: string;
  edits: number;
  /** Who is signed in, and gets the test. */
  to: string;
  /** How far from the top of what scrolls it stays, in pixels. */
  top?: number;
}

/** The saved message as somebody would get it, beside the letter; two of them, where that helps. */
export function Preview({ message, edits, to, top = 76 }: PreviewProps) {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const [chosen, setChosen] = useState<Look>();
  const [beside, setBeside] = useState(false);
  const [sent, setSent] = useState<unknown>();
  const { data: people } = useQuery(newestPeopleQuery(workspace));
  if (!people) return null;
  const look = chosen ?? { person: people.people[0] ?? null, way: "desktop" };
  const tryIt = async () => {
    try {
      await take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/try", {
          params: { path: { workspace, message } },
          body: { person: look.person?.id ?? null },
        }),
      );
      setSent("sent");
    } catch (error) {
      setSent(error);
    }
  };
  return (
    <Box
      component="aside"
      aria-label="Preview"
      sx={{
        pt: 1.75,
        minWidth: 0,
        alignSelf: "start",
        position: { lg: "sticky" },
        top: { lg: top },
      }}
    >
      <PreviewPane
        message={message}
        edits={edits}
        look={look}
        onLook={setChosen}
        around={250}
        foot={
          <>
            {mayChange && (
              <Button variant="outlined" onClick={() => void tryIt()}>
                Send test
              </Button>
            )}
            <Button onClick={() => setBeside(true)}>Compare two</Button>
          </>
        }
      />
      <Typography variant="caption" color="textSecondary" role="status">
        {sent === "sent" && `On its way to ${to}, marked as a test.`}
      </Typography>
      {sent !== undefined && sent !== "sent" && <Problem error={sent} />}
      {beside && (
        <SideBySide message={message} edits={edits} first={look} onClose={() => setBeside(false)} />
      )}
    </Box>
  );
}
