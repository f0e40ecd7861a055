import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { broadcastQuery, progressQuery } from "../../api/broadcasts";
import type { Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { MoreMenu } from "../../parts/MoreMenu";
import { useMoments } from "../../parts/moment";
import { RevisionList } from "../../parts/RevisionList";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { useThing } from "../../parts/thing/useThing";
import { useBack } from "../../parts/useBack";
import { Acts } from "./Acts";
import { Beside } from "./Beside";
import { PersonBeside } from "./PersonBeside";
import { PlanBand } from "./PlanBand";
import { Going, NotGot } from "./Progress";
import { TrialBand } from "./TrialBand";
import { isPlanned, markOf, STATES } from "./words";

type Broadcast = Schemas["BroadcastOut"];

/** A broadcast that was set off: what can be done with it now, and how it goes. */
export function BroadcastReport({ broadcast }: { broadcast: Broadcast }) {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const moments = useMoments();
  const back = useBack({ to: `/w/${workspace}/broadcasts`, label: "Broadcasts" });
  const { refetch } = useQuery(broadcastQuery(workspace, broadcast.id));
  const thing = useThing({
    kind: "broadcast",
    id: broadcast.id,
    name: broadcast.name,
    onChanged: refetch,
  });
  const planned = isPlanned(broadcast.state);
  const { data } = useQuery({
    ...progressQuery(workspace, broadcast.id),
    enabled: !planned,
  });
  return (
    <Sheet
      title={broadcast.name}
      name={broadcast.name}
      back={back}
      state={<StateWord state={markOf(broadcast.state)} word={STATES[broadcast.state]} />}
      actions={
        mayChange && (
          <>
            <MoreMenu>{(close) => thing.items(close)}</MoreMenu>
            {thing.dialogs}
            <Acts broadcast={broadcast} waiting={data?.waiting ?? 0} />
          </>
        )
      }
    >
      <Beside person={<PersonBeside broadcast={broadcast.id} document={broadcast.document} />}>
        <Says broadcast={broadcast} />
        <Band name="To">
          <BandRow>
            <Typography sx={{ overflowWrap: "anywhere" }}>{broadcast.to}</Typography>
          </BandRow>
        </Band>
        <Band name="Message">
          <BandRow>
            {broadcast.messages.map((one, at) => (
              <Typography key={at}>
                {broadcast.messages.length > 1 && <strong>{"ABCD"[at]} </strong>}
                {one}
              </Typography>
            ))}
            {broadcast.trial && (
              <Typography variant="body2" color="textSecondary">
                {broadcast.trial}
              </Typography>
            )}
            {broadcast.page && (
              <Typography variant="body2">
                <a href={broadcast.page} target="_blank" rel="noreferrer">
                  Read it in the browser
                </a>
              </Typography>
            )}
          </BandRow>
        </Band>
        <Band name="When">
          <BandRow>
            <Typography>{broadcast.when}</Typography>
            {broadcast.began_at && (
              <Typography variant="body2" color="textSecondary">
                Began {moments.moment(broadcast.began_at)}
                {broadcast.ended_at && `, ended ${moments.moment(broadcast.ended_at)}`}
              </Typography>
            )}
          </BandRow>
        </Band>
        {planned && <PlanBand broadcast={broadcast.id} document={broadcast.document} />}
        {data && !planned && <Going progress={data} />}
        {data?.trial && (
          <TrialBand
            broadcast={broadcast}
            trial={data.trial}
            decided={data.decided}
            mayChange={mayChange && broadcast.acts.includes("decide")}
          />
        )}
        {data && !planned && <NotGot progress={data} />}
        <RevisionList
          revisions={broadcast.revisions}
          at={`/w/${workspace}/broadcasts/${broadcast.id}/revisions`}
        />
      </Beside>
    </Sheet>
  );
}

/** What stands above everything else: what happens next, and until when it can be stopped whole. */
function Says({ broadcast }: { broadcast: Broadcast }) {
  const moments = useMoments();
  const { state, begins_at, decides_at, approver } = broadcast;
  const says =
    state === "asked"
      ? `${broadcast.asked_by} asks ${approver?.name ?? "a second member"} to approve it. Nothing goes before that.`
      : state === "waiting" && begins_at
        ? `It goes ${moments.moment(begins_at)}. Until then it can be called back whole.`
        : state === "trying"
          ? decides_at
            ? `The versions are out. The better one goes to the rest ${moments.moment(decides_at)}.`
            : "The versions go out. The rest is sent once the trial is decided."
          : state.endsWith("paused")
            ? "Nothing is sent until it is resumed."
            : "";
  if (!says) return null;
  return (
    <Band name="Now">
      <BandRow>
        <Typography role="status" sx={{ fontWeight: 600 }}>
          {says}
        </Typography>
      </BandRow>
    </Band>
  );
}
