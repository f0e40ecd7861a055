import { follows } from "../../api/stream";
import { counted, number } from "../../parts/formats";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { messageFiguresQuery } from "../../api/messages";
import { useSlug } from "../../api/workspace";
import { Band } from "../../parts/Band";
import { ScrollTable } from "../../parts/ScrollTable";
import { shareOf } from "../../parts/share";

/** What became of the emails of a message, with the numbers that each rate is of. */
export function MessageFigures({ message }: { message: string }) {
  const workspace = useSlug();
  const { data } = useQuery({
    ...messageFiguresQuery(workspace, message),
    ...follows(["mail"], 20_000),
  });
  if (!data || data.sent === 0) return null;
  const parts = [
    `${number(data.sent)} sent`,
    `${number(data.delivered)} delivered as far as known`,
    data.counted_clicks > 0 &&
      `${data.clicked} clicked (${shareOf(data.clicked, data.counted_clicks)})`,
    data.counted_opens > 0 &&
      `about ${data.opened} opened (${shareOf(data.opened, data.counted_opens)}, an estimate)`,
    data.left > 0 && `${data.left} unsubscribed (${shareOf(data.left, data.sent)})`,
    data.bounced > 0 && `${data.bounced} bounced (${shareOf(data.bounced, data.sent)})`,
    data.complained > 0 &&
      `${data.complained} reported as spam (${shareOf(data.complained, data.sent)})`,
  ].filter(Boolean);
  return (
    <Band
      name="Results"
      note={
        data.programs > 0 &&
        `${counted(data.programs, "email", "emails")} touched by programs alone, not counted`
      }
    >
      <Typography variant="body2">{parts.join(" · ")}</Typography>
      {data.links.length > 0 && (
        <ScrollTable sx={{ mt: 1 }}>
          <TableHead>
            <TableRow>
              <TableCell>Link</TableCell>
              <TableCell align="right">People</TableCell>
              <TableCell align="right">Clicks</TableCell>
              <TableCell align="right">Programs</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {data.links.map((one) => (
              <TableRow key={one.link}>
                <TableCell sx={{ overflowWrap: "anywhere" }}>
                  {one.link === "{{ file_link }}" ? "The file" : one.link}
                </TableCell>
                <TableCell align="right">{one.people}</TableCell>
                <TableCell align="right">{one.clicks}</TableCell>
                <TableCell align="right">{one.programs || "–"}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
    </Band>
  );
}
