import type { Schemas } from "../../api/client";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { messagesQuery } from "../../api/messages";
import { useMayChange, useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { NameDialog } from "../../parts/NameDialog";
import { ScrollTable } from "../../parts/ScrollTable";
import { SortCell, useSorting } from "../../parts/sorting";
import { Sheet } from "../../parts/Sheet";
import { SubjectLine } from "./SubjectLine";
import { MailRooms } from "./MailRooms";
import { useMaking } from "../../parts/useMaking";

type Message = Schemas["MessageLine"];

const COLUMNS = {
  name: (one: Message) => one.name,
  subject: (one: Message) => one.subject,
  sent: (one: Message) => one.sent,
  waiting: (one: Message) => one.waiting,
  edited: (one: Message) => one.saved_at,
};

/** Emails that have been written. */
export function Messages() {
  const workspace = useSlug();
  const moments = useMoments();
  const making = useMaking();
  const go = useNavigate();
  const mayChange = useMayChange();
  const [asking, setAsking] = useState(false);
  const { data, error } = useQuery(messagesQuery(workspace));
  const sorting = useSorting(data ?? [], COLUMNS, "name");
  if (!data) return <Loading error={error} />;
  const button = mayChange && (
    <Button variant="contained" onClick={() => setAsking(true)}>
      New message
    </Button>
  );
  return (
    <Sheet title="Messages" name="Messages" actions={data.length > 0 && button}>
      <MailRooms here="" />
      {data.length === 0 ? (
        <Empty says="A message is the content of an email: subject, text, and what is personal in it. Sequences send it.">
          {button}
        </Empty>
      ) : (
        <ScrollTable onPaper>
          <TableHead>
            <TableRow>
              <SortCell by="name" sorting={sorting}>
                Message
              </SortCell>
              <SortCell by="subject" sorting={sorting}>
                Subject
              </SortCell>
              <SortCell by="sent" sorting={sorting} align="right">
                Sent in 30 days
              </SortCell>
              <SortCell by="waiting" sorting={sorting} align="right">
                Not sent
              </SortCell>
              <SortCell by="edited" sorting={sorting}>
                Last edited
              </SortCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {sorting.rows.map((one) => (
              <TableRow key={one.id}>
                <TableCell>
                  <Link to={one.id}>{one.name}</Link>
                  {one.differs && " · draft not live"}
                </TableCell>
                <TableCell>
                  {one.subject ? <SubjectLine subject={one.subject} /> : "no subject"}
                </TableCell>
                <TableCell align="right">{one.sent}</TableCell>
                <TableCell align="right">{one.waiting || "–"}</TableCell>
                <TableCell>{moments.moment(one.saved_at)}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      {asking && (
        <NameDialog
          title="New message"
          label="What is it for?"
          hint="Internal name; the subject comes later: “Your guide”."
          action="Create message"
          onClose={() => setAsking(false)}
          onName={async (name) => go(`/w/${workspace}/messages/${await making.message(name)}`)}
        />
      )}
    </Sheet>
  );
}
