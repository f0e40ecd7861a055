import { follows } from "../../../api/stream";
import { useAttempt } from "../../../api/useAttempt";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { hookQuery } from "../../../api/sources";
import { api, take } from "../../../api/client";
import { useSlug } from "../../../api/workspace";
import { Band, BandRow } from "../../../parts/Band";
import { Problem } from "../../../parts/Problem";
import { Snippet } from "../../../parts/Snippet";
import { useRoute } from "../RouteContext";
import { Calls } from "./Calls";
import { CameBy } from "./CameBy";
import { SampleAnswers } from "./SampleAnswers";
import { SampleChooser } from "./SampleChooser";

/** Another program's calls: where it sends JSON, how it is signed, and the last calls as they came. */
export function ArrivesHook() {
  const { source, document, readOnly, answers, onType, choice, seen } = useRoute();
  const workspace = useSlug();
  const client = useQueryClient();
  const { attempt, failed } = useAttempt();
  const path = { workspace, source: source.id };
  const { data, error } = useQuery({
    ...hookQuery(workspace, source.id),
    ...follows(["submissions"], 2_000),
  });
  const sign = async (signed: boolean) => {
    await attempt(async () => {
      const answer = await take(
        api.PUT("/api/workspaces/{workspace}/sources/{source}/hook", {
          params: { path },
          body: { signed },
        }),
      );
      client.setQueryData(["hook", workspace, source.id], answer);
    });
  };
  return (
    <Band
      name="Arrives"
      id="arrives"
      note={source.state === "draft" ? "not open yet" : `${source.arrivals.this_week} this week`}
    >
      <BandRow sample={choice && <SampleChooser {...choice} />}>
        <Typography variant="body2" color="textSecondary">
          Another program sends one JSON object for each person. Values inside others are named by
          their path: <code>person.email</code>, <code>items[0].name</code>.
          {source.state === "draft" &&
            " Until the sheet is turned on, calls are kept as tests and start nothing."}
          {source.state === "paused" && " It is paused, and takes no calls."}
        </Typography>
        <Problem error={error ?? failed} />
        {data && !readOnly && (
          <>
            <Snippet label="Address for POST" text={data.address} />
            {data.signed ? (
              <Snippet
                label="Signing secret (Standard Webhooks); calls without its signature are refused"
                text={data.secret}
              />
            ) : (
              <Typography variant="body2" color="warning">
                Calls are not signed: whoever knows the address can send. Keep it secret.
              </Typography>
            )}
            <Stack direction="row" spacing={1}>
              <Button onClick={() => void sign(true)}>
                {data.signed ? "Make a new secret" : "Take signed calls only"}
              </Button>
              {data.signed && (
                <Button onClick={() => void sign(false)}>Take calls that are not signed</Button>
              )}
            </Stack>
            <Snippet label="A call to try, from a command line" text={data.curl} />
          </>
        )}
      </BandRow>
      <BandRow
        ruled
        sample={choice && <SampleAnswers answers={answers} choice={choice} onType={onType} />}
      >
        <CameBy seen={seen} document={document} />
      </BandRow>
      {choice && data && (
        <BandRow ruled>
          <Calls calls={data.calls} />
        </BandRow>
      )}
    </Band>
  );
}
