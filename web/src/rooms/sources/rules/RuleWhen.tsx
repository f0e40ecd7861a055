import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { fitsQuery } from "../../../api/sources";
import { type Schemas } from "../../../api/client";
import { useSlug } from "../../../api/workspace";
import { useSettled } from "../../../parts/useSettled";
import { ConditionGroup } from "../../conditions/ConditionGroup";
import type { Group } from "../../conditions/condition";
import type { Asked } from "../asked";

interface RuleWhenProps {
  source: string;
  when: Group | null;
  catalogue: Schemas["CatalogueOut"];
  asked: Asked[];
  readOnly: boolean;
  onChange: (when: Group | null) => void;
}

/** When a rule acts: always, or when a condition holds, with how many lately it would have fitted. */
export function RuleWhen(props: RuleWhenProps) {
  const { source, when, catalogue, asked, readOnly, onChange } = props;
  if (when === null) {
    return readOnly ? (
      <Typography variant="body2" color="textSecondary">
        always
      </Typography>
    ) : (
      <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography variant="body2" color="textSecondary">
          always
        </Typography>
        <Button onClick={() => onChange({ kind: "all", of: [] })}>Add a condition</Button>
      </Stack>
    );
  }
  return (
    <>
      <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography variant="body2" color="textSecondary">
          when
        </Typography>
        <Fits source={source} condition={when} />
        {!readOnly && <Button onClick={() => onChange(null)}>Remove the condition</Button>}
      </Stack>
      <ConditionGroup
        group={when}
        catalogue={catalogue}
        asked={asked}
        readOnly={readOnly}
        onChange={onChange}
      />
    </>
  );
}

function Fits({ source, condition }: { source: string; condition: Group }) {
  const workspace = useSlug();
  const settled = useSettled(condition, 300);
  const { data } = useQuery(fitsQuery(workspace, source, settled));
  if (!data) return null;
  return (
    <Typography variant="body2">
      {data.sentence}
      <Typography component="span" variant="body2" color="textSecondary">
        {data.of > 0 && ` · would have fitted ${data.fits} of the last ${data.of} submissions`}
      </Typography>
    </Typography>
  );
}
