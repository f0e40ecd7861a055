import Box from "@mui/material/Box";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { FindingsAt } from "../../../parts/Findings";
import { LineTools } from "../../../parts/LineTools";
import { SortableLine } from "../../../parts/Sortable";
import { useOpens } from "../../../parts/focus/useOpens";
import { mono } from "../../../theme";
import { QuestionForm } from "./QuestionForm";
import { QUESTIONS } from "../questions/registry";
import { moved, type Edit, type Question } from "../routeDocument";

interface QuestionLineProps {
  question: Question;
  index: number;
  count: number;
  open: boolean;
  onOpen: (open: boolean) => void;
  edit: Edit;
  findings: Schemas["Finding"][];
  readOnly: boolean;
}

/** One question: a line to read, which opens to be edited. */
export function QuestionLine(props: QuestionLineProps) {
  const { question, index, count, open, onOpen, edit, findings, readOnly } = props;
  const setQuestions = (change: (questions: Question[]) => Question[]) =>
    edit((route) => ({
      ...route,
      form: { ...route.form, questions: change(route.form.questions) },
    }));
  const move = (by: -1 | 1) => setQuestions((all) => moved(all, index, by));
  const root = useOpens<HTMLDivElement>(open);
  if (open) return <QuestionForm question={question} edit={edit} onDone={() => onOpen(false)} />;
  const name = question.label || question.name || "question without a label";
  const kind = QUESTIONS[question.type];
  const choices = question.choices.map((one) => one.label).join(", ");
  return (
    <SortableLine id={question.id} name={name} disabled={readOnly}>
      <Stack
        ref={root}
        direction="row"
        spacing={1}
        sx={{ alignItems: "center", pl: readOnly ? 0 : 1.5 }}
      >
        <Typography sx={{ minWidth: 0 }}>
          {name}{" "}
          <Typography component="span" variant="body2" color="textSecondary">
            {kind.name}
            {!kind.unseen && (question.required ? ", required" : ", optional")}
            {question.parameter && `, from ?${question.parameter}=`} {choices && `(${choices}) `}
            <Box component="code" sx={{ fontFamily: mono, fontSize: "0.8125rem" }}>
              {question.name !== name && question.name}
            </Box>
          </Typography>
        </Typography>
        {!readOnly && (
          <LineTools
            name={name}
            onEdit={() => onOpen(true)}
            onUp={index > 0 ? () => move(-1) : undefined}
            onDown={index < count - 1 ? () => move(1) : undefined}
            onRemove={() => setQuestions((all) => all.filter((one) => one.id !== question.id))}
          />
        )}
      </Stack>
      <FindingsAt findings={findings} place={question.id} />
    </SortableLine>
  );
}
