import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Band, BandRow } from "../../parts/Band";
import { newId } from "../../parts/newId";
import type { BandsProps } from "./Bands";
import { FormWords } from "./FormWords";
import { QuestionLine } from "./QuestionLine";
import { QUESTION_TYPES, type Question } from "./routeDocument";
import { SampleChooser } from "./SampleChooser";

/** The form: its words, its questions in order, and what the sample answered to each. */
export function Arrives(props: BandsProps) {
  const { source, document, edit, findings, readOnly, answers, onType, choice } = props;
  const [open, setOpen] = useState<string>();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const questions = document.form.questions;
  const asked = questions.filter((one) => one.type !== "hidden").length;
  const answerTo = (name: string) => answers.find((one) => one.name === name)?.text;
  const setAnswer = (name: string, text: string) =>
    onType([...answers.filter((one) => one.name !== name), { name, text }]);
  const add = (type: Question["type"]) => {
    const question: Question = {
      id: newId("q"),
      name: type === "email" && !questions.some((one) => one.name === "email") ? "email" : "",
      type,
      label: type === "email" ? "Email" : "",
      help: "",
      required: type === "email",
      choices: [],
      value: "",
      parameter: "",
    };
    edit((route) => ({ ...route, form: { ...route.form, questions: [...questions, question] } }));
    setAnchor(null);
    setOpen(question.id);
  };
  const note = `${source.arrivals.this_week} this week`;
  return (
    <Band name="Arrives" id="arrives" note={source.state === "draft" ? "not open yet" : note}>
      <BandRow sample={choice && <SampleChooser {...choice} />}>
        <FormWords form={document.form} edit={edit} readOnly={readOnly} />
        <Typography variant="body2" color="textSecondary">
          {source.state === "live" ? (
            <>
              Open at{" "}
              <Link
                href={source.address}
                target="_blank"
                rel="noreferrer"
                sx={{ overflowWrap: "anywhere" }}
              >
                {source.address}
              </Link>
            </>
          ) : (
            "It opens when the sheet is turned on."
          )}
        </Typography>
      </BandRow>
      {questions.map((question, index) => (
        <BandRow
          key={question.id}
          id={question.id}
          ruled
          sample={
            choice &&
            (choice.chosen === "typed" ? (
              <TextField
                variant="standard"
                value={answerTo(question.name) ?? ""}
                onChange={(event) => setAnswer(question.name, event.target.value)}
                slotProps={{
                  htmlInput: { "aria-label": `Sample: ${question.label || question.name}` },
                }}
              />
            ) : (
              <Typography
                variant="body2"
                color={answerTo(question.name) ? undefined : "textSecondary"}
              >
                {answerTo(question.name) || "no answer"}
              </Typography>
            ))
          }
        >
          <QuestionLine
            question={question}
            index={index}
            count={questions.length}
            open={open === question.id}
            onOpen={(opened) => setOpen(opened ? question.id : undefined)}
            edit={edit}
            findings={findings}
            readOnly={readOnly}
          />
        </BandRow>
      ))}
      {!readOnly && (
        <Stack direction="row" spacing={1.5} sx={{ pt: 0.75, pl: 1.5, alignItems: "center" }}>
          <Button onClick={(event) => setAnchor(event.currentTarget)} aria-haspopup="menu">
            Add a question
          </Button>
          {asked > 2 && (
            <Typography variant="caption" color="warning">
              {asked} questions: each one beyond two costs sign-ups
            </Typography>
          )}
          <Menu open={Boolean(anchor)} anchorEl={anchor} onClose={() => setAnchor(null)}>
            {(Object.keys(QUESTION_TYPES) as Question["type"][]).map((type) => (
              <MenuItem key={type} onClick={() => add(type)}>
                {QUESTION_TYPES[type]}
              </MenuItem>
            ))}
          </Menu>
        </Stack>
      )}
    </Band>
  );
}
