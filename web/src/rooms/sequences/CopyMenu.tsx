import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import { type StepPanelProps } from "./stepParts";
import { copiedFrom, placeOf } from "./sequenceDocument";

/** Copies the step and all below it into another lane, keeping its messages or copying them. */
export function CopyMenu({ step, document, edit, catalogue }: StepPanelProps) {
  const workspace = useSlug();
  const reload = useReload();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { attempt, failed } = useAttempt();
  const own = placeOf(document, step.id)?.lane.id;
  const others = document.lanes.filter((one) => one.id !== own);
  if (others.length === 0) return null;
  const copyMessages = async (lane: string) => {
    setAnchor(null);
    await attempt(async () => {
      const place = placeOf(document, step.id);
      const copies = new Map<string, string>();
      const names = new Map(catalogue.messages.map((one) => [one.id, one.name]));
      for (const one of place?.lane.steps.slice(place.index) ?? []) {
        if (one.kind !== "send" || !one.message || copies.has(one.message)) continue;
        const made = await take(
          api.POST("/api/workspaces/{workspace}/things/{kind}/{thing}/copy", {
            params: { path: { workspace, kind: "message", thing: one.message } },
            body: { name: `${names.get(one.message) ?? "Message"} (copy)` },
          }),
        );
        copies.set(one.message, made.id);
      }
      await reload("catalogue", "messages");
      edit((before) => copiedFrom(before, step.id, lane, (id) => copies.get(id) ?? id));
    });
  };
  return (
    <>
      <Button aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Copy from here to
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {others.flatMap((lane) => [
          <MenuItem
            key={lane.id}
            onClick={() => {
              setAnchor(null);
              edit((before) => copiedFrom(before, step.id, lane.id));
            }}
          >
            Lane {lane.name}, with the same messages
          </MenuItem>,
          <MenuItem key={`${lane.id}/new`} onClick={() => void copyMessages(lane.id)}>
            Lane {lane.name}, with copies of the messages
          </MenuItem>,
        ])}
      </Menu>
      <Problem error={failed} />
    </>
  );
}
