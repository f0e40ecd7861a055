import { plural } from "../../parts/formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import { AddMenu } from "../../parts/AddMenu";
import { firstBoxIn, focusOn } from "../../parts/focus/focus";
import { isGroup, newLeaf, SUBJECTS, type Condition, type Group, type Leaf } from "./condition";
import type { ConditionContext } from "./ConditionContext";
import { ConditionLine } from "./ConditionLine";
import { TypedCondition } from "./TypedCondition";

interface ConditionGroupProps extends ConditionContext {
  group: Group;
  onChange: (group: Group) => void;
  onRemove?: () => void;
  depth?: number;
}

const DEEPEST = 3;

/** A condition: by its parts, or typed as a sentence. */
export function ConditionGroup(props: ConditionGroupProps) {
  const { group, asked, readOnly, depth = 0, onChange } = props;
  const [types, setTypes] = useState(false);
  if (readOnly || depth > 0) return <Parts {...props} />;
  return (
    <Box>
      {types ? (
        <>
          <TypedCondition group={group} asked={asked} onChange={onChange} />
          <Button onClick={() => setTypes(false)}>Choose the parts instead</Button>
        </>
      ) : (
        <Parts {...props} onType={() => setTypes(true)} />
      )}
    </Box>
  );
}

interface PartsProps extends ConditionGroupProps {
  onType?: () => void;
}

/** All of, any of or none of some comparisons, nested. */
function Parts(props: PartsProps) {
  const { group, onChange, onRemove, depth = 0, catalogue, asked, readOnly } = props;
  const parts = group.of;
  const set = (index: number, part: Condition) =>
    onChange({ ...group, of: parts.map((one, at) => (at === index ? part : one)) });
  const remove = (index: number) =>
    onChange({ ...group, of: parts.filter((_, at) => at !== index) });
  const root = useRef<HTMLDivElement>(null);
  const add = (part: Condition) => {
    onChange({ ...group, of: [...parts, part] });
    focusOn(() => {
      const added = root.current?.children[parts.length];
      return added && firstBoxIn(added);
    });
  };
  const kinds = (Object.keys(SUBJECTS) as Leaf["kind"][]).filter(
    (one) => asked.length > 0 || (one !== "answer" && one !== "source"),
  );
  return (
    <Box
      role="group"
      aria-label={depth ? "Conditions within" : "Conditions"}
      sx={{ pl: depth ? 1.5 : 0, borderLeft: depth ? 2 : 0, borderColor: "divider", py: 0.5 }}
    >
      <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
        <TextField
          select
          variant="standard"
          value={group.kind}
          disabled={readOnly}
          onChange={(event) => onChange({ ...group, kind: event.target.value as Group["kind"] })}
          sx={{ width: 90 }}
          slotProps={{ htmlInput: { "aria-label": "How many of them" } }}
        >
          <MenuItem value="all">all of</MenuItem>
          <MenuItem value="any">any of</MenuItem>
          <MenuItem value="none">none of</MenuItem>
        </TextField>
        <Typography variant="body2" color="textSecondary">
          {plural(parts.length, "this", "these")}
        </Typography>
        {onRemove && !readOnly && (
          <Button color="inherit" onClick={onRemove}>
            Remove group
          </Button>
        )}
      </Stack>
      <div ref={root}>
        {parts.map((part, index) =>
          isGroup(part) ? (
            <ConditionGroup
              key={index}
              group={part}
              depth={depth + 1}
              catalogue={catalogue}
              asked={asked}
              readOnly={readOnly}
              onChange={(next) => set(index, next)}
              onRemove={() => remove(index)}
            />
          ) : (
            <ConditionLine
              key={index}
              leaf={part}
              catalogue={catalogue}
              asked={asked}
              readOnly={readOnly}
              onChange={(next) => set(index, next)}
              onRemove={() => remove(index)}
            />
          ),
        )}
      </div>
      {!readOnly && (
        <Stack direction="row" spacing={1}>
          <AddMenu
            label="Add condition"
            options={kinds.map((kind) => [kind, SUBJECTS[kind]])}
            onAdd={(kind) => add(newLeaf(kind))}
          />
          {depth < DEEPEST && (
            <Button onClick={() => add({ kind: "any", of: [] })}>Add group</Button>
          )}
          {props.onType && <Button onClick={props.onType}>Type it instead</Button>}
        </Stack>
      )}
    </Box>
  );
}
