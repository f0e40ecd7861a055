import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { trailQuery } from "../../api/people";
import { type Schemas } from "../../api/client";
import type { paths } from "../../api/schema";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Causes } from "../../parts/Causes";
import { useMoments } from "../../parts/moment";
import { byOrigin } from "../../parts/origin";
import { ENDED } from "../sequences/words";

type Fact = Schemas["FactOut"];

/** The person's facts and their becauses, the newest first, day by day. */
export function Trail({ person }: { person: string }) {
  const workspace = useSlug();
  const moments = useMoments();
  const [what, setWhat] = useState<Part | "">("");
  const trail = useInfiniteQuery(trailQuery(workspace, person, what));
  const facts = trail.data?.pages.flatMap((page) => page.facts) ?? [];
  const days = [...new Set(facts.map((fact) => moments.day(fact.at)))];
  return (
    <>
      <Stack
        direction="row"
        spacing={2}
        useFlexGap
        sx={{ pt: 3, pb: 0.5, alignItems: "center", flexWrap: "wrap" }}
      >
        <Typography variant="h2" component="h2">
          Trail
        </Typography>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={what}
          aria-label="What the trail shows"
          onChange={(_, value: Part | "" | null) => setWhat(value ?? "")}
        >
          {PARTS.map(([value, label]) => (
            <ToggleButton key={value} value={value}>
              {label}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Stack>
      {trail.data && facts.length === 0 && <BandRow>Nothing of that has happened.</BandRow>}
      {days.map((day) => (
        <Band key={day} name={day}>
          {byOrigin(
            facts.filter((fact) => moments.day(fact.at) === day),
            (one, other) => moments.time(one.at) === moments.time(other.at),
          ).map((group, index) => (
            <BandRow key={group[0].id} ruled={index > 0}>
              <Stack direction="row" spacing={1.5}>
                <Typography
                  variant="body2"
                  color="textSecondary"
                  sx={{ flexShrink: 0, lineHeight: "1.45rem", fontVariantNumeric: "tabular-nums" }}
                >
                  {moments.time(group[0].at)}
                </Typography>
                <Box sx={{ minWidth: 0 }}>
                  <Causes
                    of={group}
                    name={(fact) => fact.id}
                    says={(fact) => <What fact={fact} />}
                  />
                </Box>
              </Stack>
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

type Part = NonNullable<
  NonNullable<
    paths["/api/workspaces/{workspace}/people/{person}/trail"]["get"]["parameters"]["query"]
  >["what"]
>;
const PARTS: [Part | "", string][] = [
  ["", "Everything"],
  ["came", "Submissions"],
  ["lists", "Lists"],
  ["tags", "Tags"],
  ["fields", "Fields"],
  ["sequences", "Sequences"],
  ["emails", "Emails"],
  ["rest", "The rest"],
];

function What({ fact }: { fact: Fact }) {
  const workspace = useSlug();
  const what = fact.what as Record<string, string | number | boolean | null | undefined>;
  const { send_id: sent } = fact.because as { send_id?: string | null };
  switch (fact.kind) {
    case "added":
      return "New subscriber";
    case "submitted":
      return `Submitted through ${what["source"]}`;
    case "field":
      return `${what["field"]}: ${what["shown_before"] ? `${what["shown_before"]} → ` : ""}${what["shown"] ?? what["after"]}`;
    case "tag":
      return `Tag ${what["tag"]}${what["removed"] ? " taken off" : ""}`;
    case "score":
      return `Score ${what["before"]} → ${what["after"]}`;
    case "event":
      return `Event: ${what["event"]}${saidWith(what["data"])}`;
    case "owner":
      return `Owner: ${what["member"]}`;
    case "task":
      return `Task: ${what["title"]}`;
    case "address":
      return `Address: ${what["before"]} → ${what["after"]}`;
    case "merged":
      return what["undone"]
        ? `Parted again from ${what["address"]}`
        : `Merged with ${what["address"]}`;
    case "opened":
      return `Opened “${what["message"]}” (an estimate)`;
    case "clicked":
      return `Clicked in “${what["message"]}”: ${what["link"] === "{{ file_link }}" ? "the file" : what["link"]}`;
    case "returned":
      return what["returned"] === "complaint"
        ? `Reported “${what["message"]}” as spam`
        : `“${what["message"]}” came back${what["status"] ? ` (${what["status"]})` : ""}`;
    case "uncounted":
      return what["counted"]
        ? "Opens and clicks are counted again"
        : "Opens and clicks are not counted";
    case "fewer":
      return what["days"] ? `At most one email in ${what["days"]} days` : "No limit on emails";
    case "goal":
      return `Reached a goal of ${what["sequence"]}: ${what["goal"]}`;
    case "zone":
      return `Time zone: ${what["after"]}`;
    case "told":
      return `Told ${String(what["members"])}`;
    case "membership":
      return `${what["list"]}: ${what["before"]} → ${what["after"]}`;
    case "entered":
      return `Entered ${what["sequence"]}, lane ${what["lane"]}`;
    case "left":
      return `${what["sequence"]}: ${ENDED[String(what["why"])] ?? what["why"]}`;
    case "sent":
      return (
        <>
          Was sent <Link to={`/w/${workspace}/messages/${what["id"]}`}>{what["message"]}</Link>: “
          {what["subject"]}”
          {sent && (
            <>
              {" · "}
              <a
                href={`/api/workspaces/${workspace}/emails/${sent}/why`}
                target="_blank"
                rel="noreferrer"
              >
                Why did they get it?
              </a>
            </>
          )}
        </>
      );
    default:
      return fact.kind;
  }
}

/** What a service said with an event: a product, an amount. */
function saidWith(data: unknown): string {
  if (typeof data !== "object" || data === null) return "";
  const parts = Object.entries(data).map(([name, text]) => `${name} ${String(text)}`);
  return parts.length ? ` (${parts.join(", ")})` : "";
}
