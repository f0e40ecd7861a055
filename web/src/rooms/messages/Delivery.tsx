import { follows } from "../../api/stream";
import { number } from "../../parts/formats";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { deliveryQuery } from "../../api/messages";
import { useSlug } from "../../api/workspace";
import { Band } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Sheet } from "../../parts/Sheet";
import { DayTable } from "./DayTable";
import { DomainTable } from "./DomainTable";
import { MailRooms } from "./MailRooms";
import { Pace } from "./Pace";
import { ReplyMailbox } from "./ReplyMailbox";
import { SendingDomains } from "./SendingDomains";
import { shareOf } from "../../parts/share";

const KINDS: Record<string, string> = {
  hard: "Bounced for good",
  soft: "Bounced for now",
  complaint: "Reported as spam",
  unsubscribe: "Unsubscribed by email",
  automatic: "Automatic answer",
  reply: "Reply",
  unknown: "Could not be told",
};

/** How delivery goes: by receiving domain, what came back, and what receivers can check. */
export function Delivery() {
  const workspace = useSlug();
  const moments = useMoments();
  const [days, setDays] = useState(30);
  const { data, error } = useQuery({
    ...deliveryQuery(workspace, days),
    placeholderData: keepPreviousData,
    ...follows(["mail"], 20_000),
  });
  if (!data) return <Loading error={error} />;
  const { total } = data;
  return (
    <Sheet
      title="Delivery"
      name="Delivery"
      back={{ to: `/w/${workspace}/messages`, label: "Messages" }}
      actions={
        <TextField
          select
          label="Time"
          value={days}
          onChange={(event) => setDays(Number(event.target.value))}
          sx={{ width: 150 }}
        >
          {[7, 30, 90, 365].map((one) => (
            <MenuItem key={one} value={one}>
              Last {one} days
            </MenuItem>
          ))}
        </TextField>
      }
    >
      <MailRooms here="delivery" />
      {data.warnings.map((one) => (
        <Typography
          key={one.sentence}
          variant="body2"
          color={one.stops ? "error" : "warning"}
          sx={{ pt: 1 }}
        >
          {one.sentence} {one.fix}
        </Typography>
      ))}
      <Band name="Sent">
        <Typography variant="body2">
          {[
            `${number(total.sent)} sent`,
            `${number(total.delivered)} delivered as far as known`,
            `${total.bounced} bounced (${shareOf(total.bounced, total.sent)})`,
            `${total.refused} refused at once`,
            `${total.complained} reported as spam (${shareOf(total.complained, total.sent)})`,
            total.deferred > 0 && `${total.deferred} waiting for another try`,
          ]
            .filter(Boolean)
            .join(" · ")}
        </Typography>
        {!data.return_domain && (
          <Typography variant="body2" color="warning" sx={{ mt: 0.5 }}>
            Bounces and complaints go to the sender’s own inbox, so this counts only what is refused
            at once. The server’s administrator can set a domain for what comes back.
          </Typography>
        )}
        <DomainTable domains={data.domains} />
      </Band>
      {data.waiting.length > 0 && (
        <Band name="Waiting" note="the next try of each">
          {data.waiting.map((one) => (
            <Typography key={one.person + one.next_at} variant="body2" sx={{ py: 0.25 }}>
              <Typography component="span" variant="body2" color="textSecondary">
                {moments.moment(one.next_at)}
              </Typography>{" "}
              “{one.message}” to{" "}
              <Link to={`/w/${workspace}/people/${one.person}`}>{one.address}</Link>
              {one.reply && `, ${one.reply}`}
            </Typography>
          ))}
        </Band>
      )}
      {data.days.length > 0 && (
        <Band name="By day">
          <DayTable days={data.days} />
        </Band>
      )}
      <Band
        name="Bounces and replies"
        note={data.returned.length === 0 ? "nothing" : "the newest first"}
      >
        {data.returned.slice(0, 15).map((one) => (
          <Typography key={one.id} variant="body2" sx={{ py: 0.25, overflowWrap: "anywhere" }}>
            <Typography component="span" variant="body2" color="textSecondary">
              {moments.moment(one.at)}
            </Typography>{" "}
            {KINDS[one.kind] ?? one.kind}
            {one.person && (
              <>
                {": "}
                <Link to={`/w/${workspace}/people/${one.person}`}>{one.address}</Link>
              </>
            )}
            {one.reason && `, “${one.reason}”`}
          </Typography>
        ))}
      </Band>
      <SendingDomains />
      <Pace />
      <ReplyMailbox />
    </Sheet>
  );
}
