import { follows } from "../../api/stream";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "react-router";
import { foreseenQuery, submissionQuery } from "../../api/submissions";
import { useCatalogue, useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { ScrollTable } from "../../parts/ScrollTable";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { mono } from "../../theme";
import { HandoffsOf } from "../services/HandoffsOf";
import { later } from "./later";
import { SubmissionActions } from "./SubmissionActions";
import { WhatBecame } from "./WhatBecame";

/** One submission: the answers as received, beside what became of them. */
export function Submission() {
  const workspace = useSlug();
  const { submission = "" } = useParams();
  const moments = useMoments();
  const mayChange = useMayChange();
  const go = useNavigate();
  const { data: catalogue } = useCatalogue();
  const { data, error } = useQuery({
    ...submissionQuery(workspace, submission),
    ...follows(["submissions", "services", "mail"], 1_000),
  });
  const { data: foreseen } = useQuery({
    ...foreseenQuery(workspace, submission),
    enabled: data?.state === "held",
  });
  if (!data) return <Loading error={error} />;
  const at = `/w/${workspace}`;
  const name = data.address || data.answers[0]?.text || "no address";
  const wouldBe = data.decision ? null : (foreseen?.decision ?? null);
  const reading = (data.decision ?? wouldBe)?.reading;
  const report = (question: string) => reading?.filter((line) => line.question === question) ?? [];
  const labelOf = (id: string | null | undefined) =>
    catalogue?.fields.find((one) => one.id === id)?.label ?? "A field that is gone";
  return (
    <Sheet
      title={`Submission of ${name}`}
      name="Submission"
      back={{ to: `${at}/sources/${data.source}`, label: data.source_name }}
      state={
        <>
          <StateWord state={data.state} word={data.state === "received" ? "waiting" : data.state} />
          {data.is_test && (
            <Typography variant="body2" color="info">
              a test, counted nowhere
            </Typography>
          )}
        </>
      }
    >
      <Band name="Status">
        <BandRow>
          <Typography variant="body2">Received {moments.moment(data.received_at)}</Typography>
          <Typography variant="body2">
            {data.routed_at
              ? `Decided ${moments.moment(data.routed_at)}, ${later(data.received_at, data.routed_at)}`
              : data.state === "held"
                ? `Held: ${data.held_because}`
                : "Waiting for a worker"}
            {data.revision && (
              <>
                {" by "}
                <Link to={`${at}/sources/${data.source}/revisions/${data.revision}`}>
                  revision {data.revision}
                </Link>
              </>
            )}
          </Typography>
          {data.first_sent_at && (
            <Typography variant="body2">
              First email handed over {moments.moment(data.first_sent_at)},{" "}
              {later(data.received_at, data.first_sent_at)}
            </Typography>
          )}
          {data.person && (
            <Typography variant="body2">
              Subscriber: <Link to={`${at}/people/${data.person}`}>{data.address}</Link>
            </Typography>
          )}
          {contextOf(data.context).map(([label, text]) => (
            <Typography key={label} variant="body2" sx={{ overflowWrap: "anywhere" }}>
              {label}: {text}
            </Typography>
          ))}
          {mayChange && (
            <SubmissionActions
              submissions={[data]}
              onDone={(removed) => removed && void go(`${at}/submissions`)}
            />
          )}
        </BandRow>
      </Band>
      <Band name="Answers" note="as received">
        <ScrollTable size="small" sx={{ bgcolor: "background.paper" }}>
          <TableHead>
            <TableRow>
              <TableCell sx={{ pl: 1.5 }}>Question</TableCell>
              <TableCell>As received</TableCell>
              <TableCell>{wouldBe ? "Would become" : "Result"}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {data.answers.map(({ name: question, text }, index) => (
              <TableRow key={index}>
                <TableCell sx={{ pl: 1.5 }}>{data.labels[question] ?? question}</TableCell>
                <TableCell sx={{ overflowWrap: "anywhere" }}>{text || "—"}</TableCell>
                <TableCell>
                  {reading
                    ? report(question).length === 0 &&
                      (data.consent.includes(question) ? "consent" : "not mapped")
                    : "not decided yet"}
                  {report(question).map((line) => (
                    <div key={line.line}>
                      {line.problem
                        ? line.problem.sentence
                        : `${labelOf(line.field)}: ${String(line.value ?? "—")} (${line.note})`}
                    </div>
                  ))}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      </Band>
      {data.raw && (
        <Band name="Body" note="as it came">
          <BandRow>
            <Typography variant="caption" color="textSecondary">
              {data.raw_type}
            </Typography>
            <Typography
              component="pre"
              variant="body2"
              sx={{ m: 0, whiteSpace: "pre-wrap", overflowWrap: "anywhere", fontFamily: mono }}
            >
              {data.raw}
            </Typography>
          </BandRow>
        </Band>
      )}
      {data.decision && <WhatBecame decision={data.decision} />}
      {wouldBe && <WhatBecame decision={wouldBe} foreseen />}
      <HandoffsOf submission={submission} />
    </Sheet>
  );
}

const CONTEXT: Record<string, string> = {
  page: "Page",
  title: "Its title",
  from: "Came from",
  ip: "IP address",
};

/** What is known of a submission besides its answers. */
function contextOf(context: Record<string, unknown>): [string, string][] {
  const known = Object.entries(CONTEXT).map(([key, label]) => [label, context[key]] as const);
  const parameters = Object.entries((context["parameters"] ?? {}) as Record<string, string>);
  return [...known, ...parameters.map(([name, text]) => [`?${name}`, text] as const)]
    .filter(([, text]) => Boolean(text))
    .map(([label, text]) => [label, String(text)]);
}
