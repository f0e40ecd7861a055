import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useReloadAll, useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { NameDialog } from "../../parts/NameDialog";
import { useMakeAudience } from "./useMakeAudience";

const EXPORTS: [string, string][] = [
  ["csv", "Download the people as CSV"],
  ["jsonl", "Download the people as JSON lines"],
  ["vcf", "Download the people as vCards"],
];

/** Renaming, copying, exporting and deleting an audience: menu items, and the dialogs that they open. */
export function useAudienceActs(
  audience: Schemas["AudienceOut"],
  onChanged: () => Promise<unknown>,
) {
  const workspace = useSlug();
  const reload = useReload();
  const reloadAll = useReloadAll();
  const go = useNavigate();
  const make = useMakeAudience();
  const [asking, setAsking] = useState<"rename" | "copy" | "delete">();
  const close = () => setAsking(undefined);
  const params = { path: { workspace, audience: audience.id } };
  const rename = async (name: string) => {
    await take(
      api.PUT("/api/workspaces/{workspace}/audiences/{audience}/name", { params, body: { name } }),
    );
    await onChanged();
    await reloadAll();
    close();
  };
  const remove = async () => {
    await take(api.DELETE("/api/workspaces/{workspace}/audiences/{audience}", { params }));
    await reload("audiences");
    await go(`/w/${workspace}/audiences`);
  };
  const item = (what: "rename" | "copy" | "delete", words: string, shut: () => void) => (
    <MenuItem
      key={what}
      onClick={() => {
        shut();
        setAsking(what);
      }}
    >
      {words}
    </MenuItem>
  );
  return {
    items: (shut: () => void) => [
      item("rename", "Rename", shut),
      item("copy", "Make a copy", shut),
      ...EXPORTS.map(([form, words]) => (
        <MenuItem
          key={form}
          component="a"
          href={`/api/workspaces/${workspace}/audiences/${audience.id}/export?form=${form}`}
          download
          onClick={shut}
        >
          {words}
        </MenuItem>
      )),
      item("delete", "Delete", shut),
    ],
    dialogs: (
      <>
        {asking === "rename" && (
          <NameDialog
            title="Rename the audience"
            label="Name"
            hint="Every place shows it."
            action="Rename"
            starts={audience.name}
            onClose={close}
            onName={rename}
          />
        )}
        {asking === "copy" && (
          <NameDialog
            title="Make a copy"
            label="What do you call these people?"
            hint="The copy asks the same; change it on its own sheet."
            action="Make a copy"
            starts={`${audience.name.slice(0, 75)} copy`}
            onClose={close}
            onName={async (name) => {
              await make(name, audience.document.who);
              close();
            }}
          />
        )}
        {asking === "delete" && (
          <ConfirmDialog
            title={`Delete “${audience.name}”?`}
            action="Delete"
            destroys
            onClose={close}
            onConfirm={remove}
          >
            Its condition and its revisions go. The people stay as they are.
          </ConfirmDialog>
        )}
      </>
    ),
  };
}
