import { useMemo, useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { useDocument } from "../../drafts/useDocument";
import type { MessageDocument } from "./letter/blocks";

/** What a message is written with. */
export interface WrittenWith {
  message: Schemas["MessageOut"];
  catalogue: Schemas["CatalogueOut"];
  settings: Schemas["MailSettingsOut"];
  pictures: Schemas["PictureOut"][];
}

/** A message while it is written, on its own sheet and in a step of a sequence: its draft, what every
 * block of its letter stands in, and how its changes are turned on. */
export function useMessageEditing({ message, catalogue, settings, pictures }: WrittenWith) {
  const workspace = useSlug();
  const readOnly = !useMayChange();
  const [open, setOpen] = useState<string>();
  const editing = useDocument("message", message);
  const { draft, keep, act } = editing;
  const { edit } = draft;
  const turnOn = (note: string) =>
    act((based_on) =>
      take(
        api.POST("/api/workspaces/{workspace}/messages/{message}/turn-on", {
          params: { path: { workspace, message: message.id } },
          body: { note, based_on },
        }),
      ),
    );
  // The text may be newer here than there, so only what the files change is taken over.
  const keepFiles = ({ files, findings }: Schemas["MessageOut"]) =>
    keep({ ...message, files, findings });
  const set = (change: Partial<MessageDocument>) => edit((before) => ({ ...before, ...change }));
  const letter = useMemo(
    () => ({
      catalogue,
      fields: catalogue.fields,
      pictures,
      style: settings.style,
      words: message.words,
      readOnly,
      open: readOnly ? undefined : open,
      setOpen,
    }),
    [catalogue, pictures, settings, message.words, readOnly, open],
  );
  return { ...editing, message, readOnly, letter, set, turnOn, keepFiles };
}

export type MessageEditing = ReturnType<typeof useMessageEditing>;
