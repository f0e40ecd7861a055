import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { AddMenu } from "../../../parts/AddMenu";
import { Band, BandRow } from "../../../parts/Band";
import { Sortable } from "../../../parts/Sortable";
import { useRoute } from "../RouteContext";
import { FormWords } from "./FormWords";
import { QuestionRow } from "./QuestionRow";
import { OFFERED_QUESTIONS, QUESTIONS } from "../questions/registry";
import { emptyQuestion, type Question } from "../routeDocument";
import { SampleChooser } from "../arrives/SampleChooser";
import { FormLook } from "./FormLook";
import { FormPreview, PREVIEW, ScreenChoice, type Screen } from "./FormPreview";
import { WaysToShow } from "./WaysToShow";

/** The form: its words, its questions in order, and what the sample answered to each. */
export function ArrivesForm() {
  const route = useRoute();
  const { source, document, edit, findings, readOnly, answers, onType } = route;
  const [screen, setScreen] = useState<Screen>();
  // The address is signed anew with every answer of the server; the page need not follow that.
  const [tryAddress] = useState(source.try_address);
  const isSheet = route.choice !== undefined;
  // The form as a visitor sees it stands where the sample does.
  const choice = screen ? undefined : route.choice;
  const [open, setOpen] = useState<string>();
  const questions = document.form.questions;
  const shown = questions.filter((one) => !QUESTIONS[one.type].unseen);
  const asked = shown.length;
  const optional = shown.filter((one) => !one.required).length;
  const add = (type: Question["type"]) => {
    const question = emptyQuestion(type, !questions.some((one) => one.name === "email"));
    edit((route) => ({
      ...route,
      form: { ...route.form, questions: [...route.form.questions, question] },
    }));
    setOpen(question.id);
  };
  const note = `${source.arrivals.this_week} this week`;
  return (
    <Band name="Arrives" id="arrives" note={source.state === "draft" ? "not open yet" : note}>
      <Box
        sx={{
          display: "grid",
          columnGap: 2.5,
          gridTemplateColumns: { md: screen ? `minmax(0, 1fr) ${PREVIEW}px` : "minmax(0, 1fr)" },
        }}
      >
        <div>
          <BandRow sample={choice && <SampleChooser {...choice} />}>
            <FormWords form={document.form} findings={findings} edit={edit} readOnly={readOnly} />
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
            {isSheet && <ScreenChoice address={tryAddress} screen={screen} onScreen={setScreen} />}
          </BandRow>
          <Sortable
            items={questions}
            onOrder={(ordered) =>
              edit((route) => ({ ...route, form: { ...route.form, questions: ordered } }))
            }
          >
            {questions.map((question, index) => (
              <QuestionRow
                key={question.id}
                question={question}
                index={index}
                count={questions.length}
                open={open === question.id}
                onOpen={setOpen}
                edit={edit}
                findings={findings}
                readOnly={readOnly}
                chosen={choice?.chosen}
                answers={answers}
                onType={onType}
              />
            ))}
          </Sortable>
          {!readOnly && (
            <Stack direction="row" spacing={1.5} sx={{ pt: 0.75, pl: 1.5, alignItems: "center" }}>
              <AddMenu label="Add question" options={OFFERED_QUESTIONS} onAdd={add} />
              {asked > 2 && optional > 0 && (
                <Typography variant="caption" color={asked > 3 ? "warning" : "textSecondary"}>
                  {asked} questions: each one beyond two costs sign-ups
                  {asked > 4 && `, and ${optional} of them are optional`}
                </Typography>
              )}
            </Stack>
          )}
        </div>
        {screen && <FormPreview address={tryAddress} screen={screen} edits={route.edits} />}
      </Box>
      {isSheet && (
        <>
          <FormLook form={document.form} edit={edit} findings={findings} readOnly={readOnly} />
          <WaysToShow source={source} form={document.form} edit={edit} readOnly={readOnly} />
        </>
      )}
    </Band>
  );
}
