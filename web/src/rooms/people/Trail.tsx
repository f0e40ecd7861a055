import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Because } from "../../parts/Because";
import { useMoments } from "../../parts/moment";

type Fact = Schemas["FactOut"];

/** The person's facts and their becauses, the newest first, day by day. */
export function Trail({ person }: { person: string }) {
  const workspace = useSlug();
  const moments = useMoments();
  const trail = useInfiniteQuery({
    queryKey: ["trail", workspace, person],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/workspaces/{workspace}/people/{person}/trail", {
          params: {
            path: { workspace, person },
            query: { ...(pageParam && { after: pageParam }) },
          },
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    refetchInterval: 10_000,
  });
  const facts = trail.data?.pages.flatMap((page) => page.facts) ?? [];
  const days = [...new Set(facts.map((fact) => moments.day(fact.at)))];
  return (
    <>
      <Typography variant="h2" component="h2" sx={{ pt: 3, pb: 0.5 }}>
        Trail
      </Typography>
      {days.map((day) => (
        <Band key={day} name={day}>
          {facts
            .filter((fact) => moments.day(fact.at) === day)
            .map((fact, index) => (
              <BandRow key={fact.id} ruled={index > 0}>
                <Typography>
                  <Typography
                    component="span"
                    variant="body2"
                    color="textSecondary"
                    sx={{ mr: 1.5 }}
                  >
                    {moments.time(fact.at)}
                  </Typography>
                  <What fact={fact} /> <Because because={fact.because} />
                </Typography>
              </BandRow>
            ))}
        </Band>
      ))}
      {trail.hasNextPage && (
        <Button variant="outlined" sx={{ mt: 2 }} onClick={() => void trail.fetchNextPage()}>
          Show earlier
        </Button>
      )}
    </>
  );
}

const LEFT: Record<string, string> = {
  finished: "went through to the end",
  unsubscribed: "left: unsubscribed",
  not_on_list: "left: not subscribed to its list",
  step_gone: "left: its step was removed",
  stopped: "left: a rule ended it",
};

function What({ fact }: { fact: Fact }) {
  const workspace = useSlug();
  const what = fact.what as Record<string, string | boolean | null | undefined>;
  switch (fact.kind) {
    case "added":
      return "New subscriber";
    case "submitted":
      return `Came in by ${what["source"]}`;
    case "field":
      return `${what["field"]}: ${what["shown_before"] ? `${what["shown_before"]} → ` : ""}${what["shown"] ?? what["after"]}`;
    case "tag":
      return `Tag ${what["tag"]}${what["removed"] ? " taken off" : ""}`;
    case "score":
      return `Score ${what["before"]} → ${what["after"]}`;
    case "event":
      return `Event: ${what["event"]}`;
    case "owner":
      return `${what["member"]} looks after them`;
    case "task":
      return `Task: ${what["title"]}`;
    case "told":
      return `Told ${String(what["members"])}`;
    case "membership":
      return `${what["list"]}: ${what["before"]} → ${what["after"]}`;
    case "entered":
      return `Entered ${what["sequence"]}, lane ${what["lane"]}`;
    case "left":
      return `${what["sequence"]}: ${LEFT[String(what["why"])] ?? what["why"]}`;
    case "sent":
      return (
        <>
          Was sent <Link to={`/w/${workspace}/messages/${what["id"]}`}>{what["message"]}</Link>: “
          {what["subject"]}”
        </>
      );
    default:
      return fact.kind;
  }
}
