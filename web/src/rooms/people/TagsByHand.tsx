import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";
import { TagPicker } from "../../parts/TagPicker";
import { useMaking } from "../../parts/useMaking";
import { useByHand } from "./useByHand";

interface TagsByHandProps {
  person: Schemas["PersonOut"];
  tags: Schemas["CatalogueOut"]["tags"];
  onDone: () => void;
}

/** The tags of a person while a member changes them. */
export function TagsByHand({ person, tags, onDone }: TagsByHandProps) {
  const had = person.tags.map((one) => one.id);
  const [chosen, setChosen] = useState(had);
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
  const { change, failed } = useByHand(person.id);
  const save = async () => {
    const done = await change({
      add_tags: chosen.filter((one) => !had.includes(one)),
      remove_tags: had.filter((one) => !chosen.includes(one)),
    });
    if (done) onDone();
  };
  return (
    <BandRow>
      <Stack spacing={1.5} sx={{ py: 1, maxWidth: 560 }}>
        <TagPicker label="Tags" tags={tags} value={chosen} onChange={setChosen} onMake={make} />
        <Problem error={failed} />
        <Stack direction="row" spacing={1.5}>
          <Button variant="outlined" disabled={busy} onClick={() => void save()}>
            Save the tags
          </Button>
          <Button onClick={onDone}>Cancel</Button>
        </Stack>
      </Stack>
    </BandRow>
  );
}
