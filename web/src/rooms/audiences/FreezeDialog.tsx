import { useNavigate } from "react-router";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { NameDialog } from "../../parts/NameDialog";
import type { Group } from "../conditions/condition";

interface FreezeDialogProps {
  who: Group;
  /** What the name begins with. */
  starts: string;
  onClose: () => void;
}

/** Keeps those who fit a condition now, by a name. */
export function FreezeDialog({ who, starts, onClose }: FreezeDialogProps) {
  const workspace = useSlug();
  const reload = useReload();
  const go = useNavigate();
  const freeze = async (name: string) => {
    await take(
      api.POST("/api/workspaces/{workspace}/groups", {
        params: { path: { workspace } },
        body: { name, who },
      }),
    );
    await reload("groups", "catalogue");
    onClose();
    await go(`/w/${workspace}/audiences`);
  };
  return (
    <NameDialog
      title="Freeze these people"
      label="What do you call this group?"
      hint="Keeps exactly those who fit now, for an experiment or to leave them out of something. It will stand below the audiences."
      action="Freeze"
      starts={starts}
      onClose={onClose}
      onName={freeze}
    />
  );
}
