import { counted } from "../../parts/formats";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { countQuery } from "../../api/people";
import { type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { focusOn } from "../../parts/focus/focus";
import { Problem } from "../../parts/Problem";
import { SaveAsAudience } from "../audiences/SaveAsAudience";
import { ConditionGroup } from "../conditions/ConditionGroup";
import type { Group } from "../conditions/condition";

interface OnlyWhoProps {
  condition: Group;
  /** The condition once nobody types any more: what is counted. */
  settled: Group;
  catalogue: Schemas["CatalogueOut"];
  onChange: (condition: Group | undefined) => void;
}

/** Where one goes on when a filter is opened: what adds to it. */
export function focusOnCondition() {
  focusOn(() => document.querySelector<HTMLElement>("#filter [aria-haspopup=menu]"));
}

/** Whom the list is narrowed to: a condition as a sentence, with how many it fits. */
export function OnlyWho({ condition, settled, catalogue, onChange }: OnlyWhoProps) {
  const workspace = useSlug();
  // Whoever comes by a link reads it first.
  const [editing, setEditing] = useState(() => condition.of.length === 0);
  const { data, error } = useQuery({
    ...countQuery(workspace, settled),
    placeholderData: keepPreviousData,
  });
  return (
    <Band
      id="filter"
      name="Filter"
      note={data ? counted(data.people, "person fits", "people fit") : ""}
    >
      <BandRow>
        <Stack direction="row" spacing={1.5} sx={{ alignItems: "baseline" }}>
          <Typography variant="body2" role="status">
            {data?.sentence}
          </Typography>
          {!editing && (
            <Button
              onClick={() => {
                setEditing(true);
                focusOnCondition();
              }}
            >
              Edit condition
            </Button>
          )}
          <Button onClick={() => onChange(undefined)}>Clear filter</Button>
          <SaveAsAudience condition={settled} sentence={data?.sentence ?? ""} />
        </Stack>
        <Problem error={error} />
        {editing && (
          <ConditionGroup
            group={condition}
            catalogue={catalogue}
            asked={[]}
            readOnly={false}
            onChange={onChange}
          />
        )}
      </BandRow>
    </Band>
  );
}
