import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { suppressionQuery } from "../../api/suppression";
import { api, take } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";
import { Sheet } from "../../parts/Sheet";
import { ShowMore } from "../../parts/ShowMore";
import { Suppress } from "./Suppress";

/** Addresses and domains that get no marketing, whatever a rule says. */
export function Suppression() {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const [search, setSearch] = useState("");
  const [asking, setAsking] = useState(false);
  const { attempt, failed } = useAttempt();
  const wanted = useDeferredValue(search);
  const list = useInfiniteQuery({
    ...suppressionQuery(workspace, wanted),
    placeholderData: keepPreviousData,
  });
  const { data, error } = list;
  if (!data) return <Loading error={error} />;
  const entries = data.pages.flatMap((page) => page.entries);
  const remove = async (entry: string) => {
    await attempt(async () => {
      await take(
        api.DELETE("/api/workspaces/{workspace}/suppression/{entry}", {
          params: { path: { workspace, entry } },
        }),
      );
      await reload("suppression");
    });
  };
  return (
    <Sheet
      title="Suppression list"
      name="Suppression list"
      back={{ to: `/w/${workspace}/lists`, label: "Lists, tags and fields" }}
      state={
        <Typography variant="body2" color="textSecondary">
          {counted(data.pages[0]?.total ?? 0, "entry", "entries")} · in force over every list, rule
          and sequence
        </Typography>
      }
      actions={
        <>
          <TextField
            type="search"
            label="Address or domain"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            sx={{ width: 200 }}
          />
          <Typography variant="body2">
            <a href={`/api/workspaces/${workspace}/suppression/export`} download>
              As CSV
            </a>
          </Typography>
          {mayChange && (
            <Button variant="contained" onClick={() => setAsking(true)}>
              Add
            </Button>
          )}
        </>
      }
    >
      <Problem error={failed} />
      {entries.length === 0 ? (
        <Empty says="Nobody is on it. An address, or a whole domain, that is put here gets no marketing, whatever a rule says; what somebody asks for just now still reaches them." />
      ) : (
        <ScrollTable size="small" sx={{ mt: 1 }}>
          <TableHead>
            <TableRow>
              <TableCell>Address or domain</TableCell>
              <TableCell>Reason</TableCell>
              <TableCell>Added by</TableCell>
              <TableCell>Since</TableCell>
              {mayChange && <TableCell>Change</TableCell>}
            </TableRow>
          </TableHead>
          <TableBody>
            {entries.map((one) => (
              <TableRow key={one.id}>
                <TableCell sx={{ overflowWrap: "anywhere" }}>
                  {one.kind === "domain" ? `everybody at ${one.key}` : one.key}
                </TableCell>
                <TableCell>{one.reason || "—"}</TableCell>
                <TableCell>{one.member}</TableCell>
                <TableCell sx={{ whiteSpace: "nowrap" }}>{moments.moment(one.added_at)}</TableCell>
                {mayChange && (
                  <TableCell>
                    <Button
                      color="inherit"
                      aria-label={`Remove ${one.key}`}
                      onClick={() => void remove(one.id)}
                    >
                      Remove
                    </Button>
                  </TableCell>
                )}
              </TableRow>
            ))}
          </TableBody>
        </ScrollTable>
      )}
      <ShowMore pages={list} />
      {asking && <Suppress onClose={() => setAsking(false)} />}
    </Sheet>
  );
}
