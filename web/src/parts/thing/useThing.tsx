import MenuItem from "@mui/material/MenuItem";
import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router";
import { THINGS } from "../../api/things";
import { useReloadAll, useSlug } from "../../api/workspace";
import { NameDialog } from "../NameDialog";
import { OF_A_COPY, type Kind } from "./kinds";
import { TouchesDialog } from "./TouchesDialog";

export type Asking = "rename" | "copy" | "archive" | "restore" | "delete";

interface Thing {
  kind: Kind;
  id: string;
  name: string;
  /** What is done once it has another name or state: its own data are loaded again. */
  onChanged: () => Promise<unknown>;
}

/** What is done alike with things of every kind: items of a menu, and their dialogs. */
export function useThing({ kind, id, name, onChanged }: Thing): {
  items: (close: () => void) => ReactNode[];
  dialogs: ReactNode;
} {
  const workspace = useSlug();
  const go = useNavigate();
  const reloadAll = useReloadAll();
  const [asking, setAsking] = useState<Asking>();
  const calls = THINGS[kind](workspace, id);
  const room = `/w/${workspace}/${kind}s`;
  const over = async () => {
    await reloadAll();
    await onChanged();
    setAsking(undefined);
  };
  const item = (what: Asking, label: string, close: () => void) => (
    <MenuItem
      key={what}
      onClick={() => {
        close();
        setAsking(what);
      }}
    >
      {label}
    </MenuItem>
  );
  const items = (close: () => void) => [
    item("rename", "Rename", close),
    item("copy", "Duplicate", close),
    calls.archive && item("archive", "Archive or restore", close),
    item("delete", "Delete", close),
  ];
  const close = () => setAsking(undefined);
  const dialogs = (
    <>
      {asking === "rename" && (
        <NameDialog
          title={`Rename the ${kind}`}
          label="Name"
          hint="Past records keep the old name."
          action="Rename"
          starts={name}
          onClose={close}
          onName={async (next) => {
            await calls.rename(next);
            await over();
          }}
        />
      )}
      {asking === "copy" && (
        <NameDialog
          title={`Duplicate the ${kind}`}
          label="Name of the copy"
          hint={OF_A_COPY[kind]}
          action="Duplicate"
          starts={`${name} (copy)`}
          onClose={close}
          onName={async (next) => {
            const made = await calls.copy(next);
            await over();
            await go(`${room}/${made.id}`);
          }}
        />
      )}
      {(asking === "archive" || asking === "delete") && (
        <TouchesDialog
          kind={kind}
          id={id}
          name={name}
          asking={asking}
          onClose={close}
          onDone={async () => {
            if (asking === "delete") {
              await go(room);
              await reloadAll();
            } else await over();
          }}
        />
      )}
    </>
  );
  return { items, dialogs };
}
