import { memo } from "react";
import type { Schemas } from "../../../api/client";
import { BandRow } from "../../../parts/Band";
import { SampleAnswer } from "../arrives/SampleAnswer";
import type { Answer, Edit, Question } from "../routeDocument";
import { QuestionLine } from "./QuestionLine";

interface QuestionRowProps {
  question: Question;
  index: number;
  count: number;
  open: boolean;
  onOpen: (id: string | undefined) => void;
  edit: Edit;
  findings: Schemas["Finding"][];
  readOnly: boolean;
  /** The sample that is shown; none where there is none. */
  chosen: string | undefined;
  answers: Answer[];
  onType: (answers: Answer[]) => void;
}

/** A question with what the sample answered to it. It renders when something of its own has changed. */
export const QuestionRow = memo(function QuestionRow(props: QuestionRowProps) {
  const { question, chosen, answers, onType, onOpen, ...line } = props;
  return (
    <BandRow
      id={question.id}
      ruled
      sample={
        chosen !== undefined && (
          <SampleAnswer question={question} answers={answers} chosen={chosen} onType={onType} />
        )
      }
    >
      <QuestionLine
        {...line}
        question={question}
        onOpen={(opened) => onOpen(opened ? question.id : undefined)}
      />
    </BandRow>
  );
});
