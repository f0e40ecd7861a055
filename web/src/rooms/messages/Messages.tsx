import type { Schemas } from "../../api/client";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { parseAsString, useQueryState } from "nuqs";
import { useState } from "react";
import { useNavigate } from "react-router";
import { usesQuery } from "../../api/lists";
import { messagesQuery } from "../../api/messages";
import { goalsAfterQuery } from "../../api/sequences";
import { useMayChange, useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { counted } from "../../parts/formats";
import { Loading } from "../../parts/Loading";
import { NameDialog } from "../../parts/NameDialog";
import { ScrollTable } from "../../parts/ScrollTable";
import { SearchField } from "../../parts/SearchField";
import { SortCell, useSorting } from "../../parts/sorting";
import { Sheet } from "../../parts/Sheet";
import { useMaking } from "../../parts/useMaking";
import { MailRooms } from "./MailRooms";
import { MessageRow } from "./MessageRow";

interface Row {
  message: Schemas["MessageLine"];
  users: Schemas["UserOut"][];
  goal: Schemas["GoalAfterOut"] | undefined;
}

/** Empty where there is nothing to divide by: such rows come last. */
const rate = (part: number, of: number) => (of ? part / of : null);

const COLUMNS = {
  name: ({ message }: Row) => message.name,
  used: ({ users }: Row) => users[0]?.name,
  sent: ({ message }: Row) => message.lately.sent,
  opened: ({ message: { lately } }: Row) => rate(lately.opened, lately.counted_opens),
  clicked: ({ message: { lately } }: Row) => rate(lately.clicked, lately.counted_clicks),
  left: ({ message: { lately } }: Row) => rate(lately.left, lately.sent),
  goal: ({ goal }: Row) => rate(goal?.reached ?? 0, goal?.sent ?? 0),
  waiting: ({ message }: Row) => message.lately.waiting,
  edited: ({ message }: Row) => message.saved_at,
};

const HEADS: [keyof typeof COLUMNS, string][] = [
  ["sent", "Sent"],
  ["opened", "Opened"],
  ["clicked", "Clicked"],
  ["left", "Unsubscribed"],
  ["goal", "Goal"],
  ["waiting", "Waiting"],
];

/** Emails that have been written: where each is used, and how it did lately. */
export function Messages() {
  const workspace = useSlug();
  const making = useMaking();
  const go = useNavigate();
  const mayChange = useMayChange();
  const [asking, setAsking] = useState(false);
  const [search, setSearch] = useQueryState("search", parseAsString.withDefault(""));
  const { data, error } = useQuery(messagesQuery(workspace));
  const { data: uses } = useQuery(usesQuery(workspace));
  const { data: goals } = useQuery(goalsAfterQuery(workspace));
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = (data ?? []).map((message): Row => ({
    message,
    users: (uses?.[message.id] ?? []).filter((one) => one.how === "sends"),
    goal: goals?.find((one) => one.message === message.id),
  }));
  const fitting = rows.filter(({ message, users }) => {
    const text = [message.name, message.subject, ...users.map((one) => one.name)].join(" ");
    return words.every((word) => text.toLowerCase().includes(word));
  });
  const sorting = useSorting(fitting, COLUMNS, "name");
  if (!data) return <Loading error={error} />;
  const button = mayChange && (
    <Button variant="contained" onClick={() => setAsking(true)}>
      New message
    </Button>
  );
  return (
    <Sheet
      title="Messages"
      name="Messages"
      actions={
        data.length > 0 && (
          <>
            <SearchField
              inHead
              label="Search name, subject, sequence"
              value={search}
              width={260}
              onSearch={(text) => void setSearch(text || null)}
            />
            {button}
          </>
        )
      }
    >
      <MailRooms here="" />
      {data.length === 0 ? (
        <Empty says="A message is the content of an email: subject, text, and what is personal in it. Sequences send it.">
          {button}
        </Empty>
      ) : (
        <>
          <Typography variant="body2" color="textSecondary" sx={{ mt: 1.5 }}>
            {words.length > 0 && `${counted(fitting.length, "message", "messages")} found. `}
            Figures cover the emails sent in the last 30 days. Opens are an estimate. A goal counts
            if the person reached it after the email, in the same sequence.
          </Typography>
          <ScrollTable onPaper>
            <TableHead>
              <TableRow>
                <SortCell by="name" sorting={sorting}>
                  Message
                </SortCell>
                <SortCell by="used" sorting={sorting}>
                  Used in
                </SortCell>
                {HEADS.map(([by, words]) => (
                  <SortCell key={by} by={by} sorting={sorting} align="right">
                    {words}
                  </SortCell>
                ))}
                <SortCell by="edited" sorting={sorting}>
                  Edited
                </SortCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {sorting.rows.map((row) => (
                <MessageRow key={row.message.id} {...row} />
              ))}
            </TableBody>
          </ScrollTable>
        </>
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
