import Box from "@mui/material/Box";
import TableCell from "@mui/material/TableCell";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { number } from "../../parts/formats";
import { useMoments } from "../../parts/moment";
import { percent } from "../../parts/share";
import { SubjectLine } from "./SubjectLine";

interface MessageRowProps {
  message: Schemas["MessageLine"];
  /** What sends it. */
  users: Schemas["UserOut"][];
  goal: Schemas["GoalAfterOut"] | undefined;
}

/** A message in the list: how it did lately, and where it is used. */
export function MessageRow({ message, users, goal }: MessageRowProps) {
  const moments = useMoments();
  const { lately } = message;
  return (
    <TableRow>
      <TableCell sx={{ maxWidth: 300 }}>
        <Link to={message.id}>{message.name}</Link>
        {message.differs && " · draft not live"}
        <Typography variant="caption" component="div" noWrap color="textSecondary">
          {message.subject ? <SubjectLine subject={message.subject} /> : "no subject"}
        </Typography>
      </TableCell>
      <TableCell sx={{ maxWidth: 200 }}>
        <UsedIn users={users} />
      </TableCell>
      <TableCell align="right">{number(lately.sent)}</TableCell>
      <Share part={lately.opened} of={lately.counted_opens} />
      <Share part={lately.clicked} of={lately.counted_clicks} />
      <Share part={lately.left} of={lately.sent} />
      <Share part={goal?.reached ?? 0} of={goal?.sent ?? 0} />
      <TableCell align="right">{lately.waiting || "–"}</TableCell>
      <TableCell sx={{ whiteSpace: "nowrap" }}>{moments.day(message.saved_at)}</TableCell>
    </TableRow>
  );
}

/** A share with what it is of; a dash where there is nothing that it could be of. */
function Share({ part, of }: { part: number; of: number }) {
  return (
    <TableCell align="right" title={of ? `${number(part)} of ${number(of)}` : undefined}>
      {of ? (
        <>
          {percent(part, of)}
          <Typography variant="caption" component="div" color="textSecondary">
            {number(part)} of {number(of)}
          </Typography>
        </>
      ) : (
        "–"
      )}
    </TableCell>
  );
}

function UsedIn({ users }: { users: Schemas["UserOut"][] }) {
  const at = `/w/${useSlug()}`;
  const [first, ...rest] = users;
  if (!first) return "–";
  return (
    <Box>
      <Link to={`${at}/${first.kind === "source" ? "sources" : "sequences"}/${first.pk}`}>
        {first.name}
      </Link>
      {!first.live && " (draft)"}
      {rest.length > 0 && (
        <Typography
          variant="caption"
          component="div"
          color="textSecondary"
          title={rest.map((one) => one.name).join(", ")}
        >
          and {rest.length} more
        </Typography>
      )}
    </Box>
  );
}
