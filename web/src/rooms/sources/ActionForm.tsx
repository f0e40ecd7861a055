import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { NumberField } from "../../parts/NumberField";
import { Picker } from "../../parts/Picker";
import { TagPicker } from "../../parts/TagPicker";
import { useMaking } from "../../parts/useMaking";
import { ValueBox } from "../conditions/ValueBox";
import { HandOverForm } from "../services/HandOverForm";
import type { ActionFormProps } from "./ActionFormProps";
import { MembersPicker } from "./MembersPicker";
import { OwnerForm } from "./OwnerForm";
import { QuestionPicker } from "./QuestionPicker";
import { StartAction } from "./StartAction";
import { StopAction } from "./StopAction";
import { SubscriptionForm } from "./SubscriptionForm";
import { TagTable } from "./TagTable";
import { TagsSoFar } from "./TagsSoFar";
import { WordsBox } from "./WordsBox";

/** What an action needs to know: its tags, field, list, message, members. */
export function ActionForm(props: ActionFormProps) {
  const { action, catalogue, questions, asked, suggests, readOnly, onChange } = props;
  const making = useMaking();
  switch (action.kind) {
    case "add_tags":
    case "remove_tags":
      return (
        <TagPicker
          label="Tags"
          tags={catalogue.tags}
          value={action.tags}
          disabled={readOnly}
          onChange={(tags) => onChange({ ...action, tags })}
          onMake={making.tag}
          suggests={action.kind === "add_tags" ? suggests : ""}
        />
      );
    case "tag_by_answer":
      return (
        <TagTable
          action={action}
          questions={questions}
          tags={catalogue.tags}
          readOnly={readOnly}
          onChange={onChange}
        />
      );
    case "tag_from_answer":
      return (
        <Row>
          <Stack sx={{ width: 220 }}>
            <QuestionPicker
              label="Answer to"
              asked={asked}
              value={action.question}
              disabled={readOnly}
              onChange={(question) => onChange({ ...action, question })}
            />
          </Stack>
          <TextField
            label="Each tag begins with"
            placeholder="source: "
            value={action.prefix}
            disabled={readOnly}
            onChange={(event) => onChange({ ...action, prefix: event.target.value })}
            sx={{ width: 180 }}
          />
          <WordsBox
            label="Only these answers (empty: any)"
            value={action.only}
            readOnly={readOnly}
            onChange={(only) => onChange({ ...action, only })}
          />
          <TagsSoFar action={action} tags={catalogue.tags} />
        </Row>
      );
    case "put_field": {
      const field = catalogue.fields.find((one) => one.id === action.field);
      return (
        <Row>
          <Stack sx={{ width: 220 }}>
            <Picker
              label="Field"
              options={catalogue.fields
                .filter((one) => one.type !== "email")
                .map((one) => ({ id: one.id, name: one.label }))}
              value={action.field ?? null}
              disabled={readOnly}
              onChange={(chosen) => onChange({ ...action, field: chosen, value: "" })}
            />
          </Stack>
          <ValueBox
            op="is"
            value={action.value}
            values={[]}
            type={field?.type ?? "text"}
            options={
              field?.choices.length ? field.choices.map((one) => [one.key, one.label]) : undefined
            }
            readOnly={readOnly}
            onChange={({ value = "" }) => onChange({ ...action, value })}
          />
        </Row>
      );
    }
    case "change_score":
      return (
        <NumberField
          label="Points (negative to subtract)"
          value={action.by}
          min={-1000}
          max={1000}
          disabled={readOnly}
          onChange={(by) => onChange({ ...action, by })}
          sx={{ width: 210, mt: 1 }}
        />
      );
    case "record_event":
      return (
        <TextField
          label="Name of the event"
          placeholder="asked for a visit"
          value={action.name}
          disabled={readOnly}
          onChange={(event) => onChange({ ...action, name: event.target.value.slice(0, 60) })}
          sx={{ maxWidth: 300, mt: 1 }}
        />
      );
    case "change_subscription":
      return <SubscriptionForm {...props} action={action} />;
    case "start_sequence":
      return (
        <StartAction
          action={action}
          sequences={catalogue.sequences}
          readOnly={readOnly}
          onChange={onChange}
        />
      );
    case "stop_sequence":
      return <StopAction {...props} action={action} />;
    case "send_now":
      return (
        <Row>
          <Stack sx={{ width: 240 }}>
            <Picker
              label="Message"
              options={catalogue.messages}
              value={action.message ?? null}
              disabled={readOnly}
              onChange={(message) => onChange({ ...action, message })}
            />
          </Stack>
          <Stack sx={{ width: 220 }}>
            <Picker
              label="Its link leaves the list"
              options={catalogue.lists}
              value={action.list ?? null}
              disabled={readOnly}
              onChange={(list) => onChange({ ...action, list })}
            />
          </Stack>
        </Row>
      );
    case "set_owner":
      return <OwnerForm {...props} action={action} />;
    case "make_task":
      return (
        <Row>
          <TextField
            label="What is to be done"
            value={action.title}
            disabled={readOnly}
            onChange={(event) => onChange({ ...action, title: event.target.value.slice(0, 200) })}
            sx={{ width: 320 }}
          />
          <NumberField
            label="Within (days)"
            value={action.days}
            min={0}
            max={365}
            disabled={readOnly}
            onChange={(days) => onChange({ ...action, days })}
            sx={{ width: 120 }}
          />
        </Row>
      );
    case "hand_over":
      return (
        <HandOverForm
          handover={action.handover}
          catalogue={catalogue}
          asked={asked}
          readOnly={readOnly}
          onChange={(handover) => onChange({ ...action, handover })}
        />
      );
    case "notify":
      return (
        <Row>
          <MembersPicker
            members={catalogue.members}
            value={action.members}
            readOnly={readOnly}
            onChange={(members) => onChange({ ...action, members })}
          />
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={action.owner}
                disabled={readOnly}
                onChange={(event) => onChange({ ...action, owner: event.target.checked })}
              />
            }
            label="And the owner"
          />
        </Row>
      );
  }
}

function Row({ children }: { children: React.ReactNode }) {
  return (
    <Stack
      direction="row"
      spacing={1}
      useFlexGap
      sx={{ flexWrap: "wrap", alignItems: "center", pt: 1 }}
    >
      {children}
    </Stack>
  );
}
