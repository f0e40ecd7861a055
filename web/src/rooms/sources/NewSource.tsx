import { useNavigate } from "react-router";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { NameDialog } from "../../parts/NameDialog";

/** Makes a form; its name is asked first. */
export function NewSource({ onClose }: { onClose: () => void }) {
  const workspace = useSlug();
  const reload = useReload();
  const go = useNavigate();
  const make = async (name: string) => {
    const made = await take(
      api.POST("/api/workspaces/{workspace}/sources", {
        params: { path: { workspace } },
        body: { name },
      }),
    );
    await reload("sources", "desk");
    await go(`/w/${workspace}/sources/${made.id}`);
  };
  return (
    <NameDialog
      title="New form"
      label="What is it for?"
      hint="Name what the visitor gets: “First telescope guide”."
      action="Make the form"
      onClose={onClose}
      onName={make}
    />
  );
}
