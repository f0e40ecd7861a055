import { times } from "../../parts/formats";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { useMoments } from "../../parts/moment";

type Snag = Schemas["SnagOut"];

const ABOUT: Partial<Record<string, string>> = {
  send: "Email",
  submission: "Submission",
  sequence: "Sequence",
  service: "Service",
  sheet: "Sheet",
};
const AGAIN: Partial<Record<string, string>> = { send: "Send again", submission: "Route again" };

interface SnagBandProps {
  snag: Snag;
  onDone: () => void;
  onFailed: (error: unknown) => void;
}

/** One snag: what happened, how often, where to fix it, and what to do then. */
export function SnagBand({ snag, onDone, onFailed }: SnagBandProps) {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const path = { workspace, snag: snag.id };
  const source = (snag.place as Record<string, string | undefined>)["source"];
  const act = async (asked: () => Promise<unknown>) => {
    try {
      onFailed(undefined);
      await asked();
      onDone();
    } catch (error) {
      onFailed(error);
    }
  };
  const again = () =>
    snag.about === "send"
      ? take(api.POST("/api/workspaces/{workspace}/sends/again/{snag}", { params: { path } }))
      : snag.about === "sequence"
        ? take(api.POST("/api/workspaces/{workspace}/runs/again/{snag}", { params: { path } }))
        : take(
            api.POST("/api/workspaces/{workspace}/submissions/again/{snag}", { params: { path } }),
          );
  const wentOut = () =>
    take(api.POST("/api/workspaces/{workspace}/sends/went-out/{snag}", { params: { path } }));
  const close = () =>
    take(api.POST("/api/workspaces/{workspace}/snags/{snag}/close", { params: { path } }));
  return (
    <Band
      name={ABOUT[snag.about] ?? "Snag"}
      note={
        snag.times > 1
          ? `${times(snag.times)}, last ${moments.moment(snag.last_at)}`
          : moments.moment(snag.last_at)
      }
    >
      <BandRow>
        <Typography>{snag.sentence}</Typography>
        <Typography variant="body2" color="textSecondary">
          {snag.fix} <Places snag={snag} />
        </Typography>
        {mayChange && (
          <Stack direction="row" sx={{ mt: 1, gap: 1, flexWrap: "wrap" }}>
            {snag.cause.startsWith("unknown/") && (
              <Button variant="outlined" onClick={() => void act(wentOut)}>
                It went out
              </Button>
            )}
            {!["sheet", "service"].includes(snag.about) && (
              <Button variant="outlined" onClick={() => void act(again)}>
                {AGAIN[snag.about] ?? "Try again"}
              </Button>
            )}
            {snag.about === "submission" && source && (
              <Button
                component={Link}
                to={`/w/${workspace}/sources/${source}/replay?snag=${snag.id}`}
              >
                Replay, seeing first what changes
              </Button>
            )}
            <Button onClick={() => void act(close)}>Dismiss</Button>
          </Stack>
        )}
      </BandRow>
    </Band>
  );
}

function Places({ snag }: { snag: Snag }) {
  const at = `/w/${useSlug()}`;
  const place = snag.place as Record<string, string | undefined>;
  return (
    <>
      {place["message"] && <Link to={`${at}/messages/${place["message"]}`}>Open the message</Link>}{" "}
      {place["source"] && (
        <Link to={`${at}/sources/${place["source"]}#${place["line"] ?? ""}`}>Open the sheet</Link>
      )}{" "}
      {place["submission"] && (
        <Link to={`${at}/submissions/${place["submission"]}`}>The last submission</Link>
      )}{" "}
      {place["service"] && (
        <Link
          to={`${at}/services/${place["service"]}${place["fault"] ? `?state=failed&fault=${place["fault"]}#handoffs` : ""}`}
        >
          Open the service
        </Link>
      )}{" "}
      {place["person"] && <Link to={`${at}/people/${place["person"]}`}>The last person</Link>}
    </>
  );
}
