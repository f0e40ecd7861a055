import MenuItem from "@mui/material/MenuItem";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { DocumentFile } from "../../parts/DocumentFile";
import { useThing } from "../../parts/thing/useThing";

interface MoreOfRouteProps {
  source: Schemas["SourceOut"];
  mayChange: boolean;
  /** Goes on once what was changed is saved, since a rehearsal goes by the saved draft. */
  onLeave: (open: () => Promise<void>) => Promise<unknown>;
  onFile: (content: string) => Promise<unknown>;
  onChanged: () => Promise<unknown>;
  onDiscard: () => Promise<unknown>;
}

/** What is done with a route now and then: rehearse it, replay by it, take it out and in. */
export function MoreOfRoute(props: MoreOfRouteProps) {
  const { source, mayChange, onLeave, onFile, onChanged, onDiscard } = props;
  const { items, dialogs } = useThing({
    kind: "source",
    id: source.id,
    name: source.name,
    onChanged,
  });
  const workspace = useSlug();
  const go = useNavigate();
  const open = (where: string) =>
    onLeave(async () => go(`/w/${workspace}/sources/${source.id}/${where}`));
  return (
    <>
      <DocumentFile
        address={`/api/workspaces/${workspace}/sources/${source.id}/document.json`}
        readOnly={!mayChange}
        differs={source.differs}
        changes={source.changes}
        onFile={onFile}
        more={(close) => [
          <MenuItem key="rehearse" onClick={() => (close(), void open("rehearsal"))}>
            Rehearse with the last submissions
          </MenuItem>,
          <MenuItem key="replay" onClick={() => (close(), void open("replay"))}>
            Replay submissions
          </MenuItem>,
          ...(mayChange ? items(close) : []),
          mayChange && source.differs && source.live_number && (
            <MenuItem key="discard" onClick={() => (close(), void onDiscard())}>
              Discard the draft
            </MenuItem>
          ),
        ]}
      />
      {dialogs}
    </>
  );
}
