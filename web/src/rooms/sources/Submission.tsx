import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { WhatBecame } from "./WhatBecame";

/** One submission: the answers as received, beside what became of them. */
export function Submission() {
  const workspace = useSlug();
  const { submission = "" } = useParams();
  const moments = useMoments();
  const { data, error } = useQuery({
    queryKey: ["submission", workspace, submission],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/submissions/{submission}", {
          params: { path: { workspace, submission } },
        }),
      ),
    refetchInterval: (query) => (query.state.data?.state === "received" ? 1_000 : false),
  });
  if (!data) return <Loading error={error} />;
  const at = `/w/${workspace}`;
  const name = data.address || data.answers[0]?.text || "no address";
  const report = (question: string) =>
    data.decision?.reading.filter((line) => line.question === question) ?? [];
  return (
    <Sheet
      title={`Submission of ${name}`}
      name="Submission"
      back={{ to: `${at}/sources/${data.source}`, label: data.source_name }}
      state={
        <StateWord state={data.state} word={data.state === "received" ? "waiting" : data.state} />
      }
    >
      <Band name="Where it is">
        <BandRow>
          <Typography variant="body2">Received {moments.moment(data.received_at)}</Typography>
          <Typography variant="body2">
            {data.routed_at
              ? `Decided ${moments.moment(data.routed_at)}, ${seconds(data.received_at, data.routed_at)} later`
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
          {data.person && (
            <Typography variant="body2">
              Subscriber: <Link to={`${at}/people/${data.person}`}>{data.address}</Link>
            </Typography>
          )}
          {typeof data.context["from"] === "string" && data.context["from"] && (
            <Typography variant="body2">Came from {data.context["from"]}</Typography>
          )}
        </BandRow>
      </Band>
      <Band name="Answers" note="as received">
        <Table size="small" sx={{ bgcolor: "background.paper" }}>
          <TableHead>
            <TableRow>
              <TableCell sx={{ pl: 1.5 }}>Question</TableCell>
              <TableCell>As received</TableCell>
              <TableCell>What became of it</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {data.answers.map(({ name: question, text }, index) => (
              <TableRow key={index}>
                <TableCell sx={{ pl: 1.5 }}>{question}</TableCell>
                <TableCell sx={{ overflowWrap: "anywhere" }}>{text || "—"}</TableCell>
                <TableCell>
                  {report(question).length === 0 && "kept, not mapped"}
                  {report(question).map((line) => (
                    <div key={line.line}>
                      {line.problem
                        ? line.problem.sentence
                        : `${line.field_key}: ${String(line.value ?? "—")} (${line.note})`}
                    </div>
                  ))}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Band>
      {data.decision && <WhatBecame decision={data.decision} />}
    </Sheet>
  );
}

function seconds(from: string, to: string): string {
  const passed = (new Date(to).getTime() - new Date(from).getTime()) / 1000;
  return `${passed.toFixed(passed < 10 ? 1 : 0)} s`;
}
