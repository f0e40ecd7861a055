import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { Picker } from "../../parts/Picker";
import { SmallSelect } from "../conditions/SmallSelect";
import type { ActionFormProps } from "./ActionKind";
import { MembersPicker } from "./MembersPicker";
import { QuestionPicker } from "../sources/QuestionPicker";
import type { Action } from "./ActionKind";

type Owner = Extract<Action, { kind: "set_owner" }>;

/** Who looks after the person: one member, by an answer, or in turn. */
export function OwnerForm(props: ActionFormProps<Owner>) {
  const { action, catalogue, questions, asked, readOnly, onChange } = props;
  const question = questions.find((one) => one.name === action.question);
  const memberOf = (choice: string) =>
    action.table.find((one) => one.choice === choice)?.member ?? null;
  const setMember = (choice: string, member: string | null) =>
    onChange({
      ...action,
      table: [
        ...action.table.filter((one) => one.choice !== choice),
        ...(member ? [{ choice, member }] : []),
      ],
    });
  return (
    <Stack spacing={1} sx={{ pt: 1 }}>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap" }}>
        <SmallSelect
          label="Who"
          value={action.how}
          options={[
            ["fixed", "always"],
            ["in_turn", "in turn"],
            ["by_answer", "by answer"],
          ]}
          readOnly={readOnly}
          onChange={(how) => onChange({ ...action, how: how as Owner["how"] })}
        />
        {action.how === "by_answer" ? (
          <Stack sx={{ width: 240 }}>
            <QuestionPicker
              label="Answer to"
              asked={asked.filter((one) => questions.some((other) => other.name === one.name))}
              value={action.question}
              disabled={readOnly}
              onChange={(name) => onChange({ ...action, question: name })}
            />
          </Stack>
        ) : (
          <MembersPicker
            members={catalogue.members}
            value={action.members}
            readOnly={readOnly}
            onChange={(members) =>
              onChange({ ...action, members: action.how === "fixed" ? members.slice(-1) : members })
            }
          />
        )}
      </Stack>
      {action.how === "by_answer" &&
        question?.choices.map((choice) => (
          <Stack key={choice.key} direction="row" spacing={1} sx={{ alignItems: "center" }}>
            <Typography variant="body2" sx={{ width: 120 }}>
              {choice.label}
            </Typography>
            <Stack sx={{ width: 240 }}>
              <Picker
                label={`Owner for ${choice.label}`}
                options={catalogue.members}
                value={memberOf(choice.key)}
                disabled={readOnly}
                onChange={(member) => setMember(choice.key, member)}
              />
            </Stack>
          </Stack>
        ))}
    </Stack>
  );
}
