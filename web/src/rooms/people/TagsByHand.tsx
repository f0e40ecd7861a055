import Stack from "@mui/material/Stack";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { FormActions } from "../../drafts/FormActions";
import { BandRow } from "../../parts/Band";
import { TagPicker } from "../../parts/TagPicker";
import { useMaking } from "../../parts/useMaking";
import { usePersonForm } from "./useByHand";

interface TagsByHandProps {
  person: Schemas["PersonOut"];
  tags: Schemas["CatalogueOut"]["tags"];
  onDone: () => void;
}

/** The tags of a person while a member changes them. */
export function TagsByHand({ person, tags, onDone }: TagsByHandProps) {
  const draft = usePersonForm<{ tags: string[] }>(
    person,
    "tags",
    (one) => ({ tags: one.tags.map((tag) => tag.id) }),
    (before, after) => ({
      add_tags: after.tags.filter((one) => !before.tags.includes(one)),
      remove_tags: before.tags.filter((one) => !after.tags.includes(one)),
    }),
  );
  const making = useMaking();
  const [busy, setBusy] = useState(false);
  // What is saved while a tag is being made would miss it.
  const make = async (name: string) => {
    try {
      setBusy(true);
      return await making.tag(name);
    } finally {
      setBusy(false);
    }
  };
  return (
    <BandRow>
      <Stack spacing={1.5} sx={{ py: 1, maxWidth: 560 }}>
        <TagPicker
          label="Tags"
          tags={tags}
          value={draft.form.tags}
          onChange={(tags) => draft.set({ tags })}
          onMake={make}
        />
        <FormActions
          draft={draft}
          label="Save the tags"
          disabled={busy}
          onSaved={onDone}
          onCancel={onDone}
        />
      </Stack>
    </BandRow>
  );
}
