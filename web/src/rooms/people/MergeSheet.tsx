import { useAttempt } from "../../api/useAttempt";
import Autocomplete from "@mui/material/Autocomplete";
import Button from "@mui/material/Button";
import Radio from "@mui/material/Radio";
import Stack from "@mui/material/Stack";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { foundQuery, mergeQuery, personQuery } from "../../api/people";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { Problem } from "../../parts/Problem";
import { ScrollTable } from "../../parts/ScrollTable";
import { Sheet } from "../../parts/Sheet";
import { useSettled } from "../../parts/useSettled";

type Line = Schemas["Line"];
type Other = Pick<Schemas["PersonLine"], "id" | "address" | "name">;

const ABOUT: Record<Line["about"], string> = {
  address: "Address",
  field: "Field",
  tag: "Tag",
  list: "List",
  sequence: "Sequence",
  score: "Score",
  owner: "Owner",
};

/** Two people who are one: what each has and what stays, before anything is done. */
export function MergeSheet() {
  const workspace = useSlug();
  const { person = "" } = useParams();
  const reload = useReload();
  const go = useNavigate();
  const [search, setSearch] = useState("");
  const [other, setOther] = useState<Other | null>(null);
  const [fields, setFields] = useState<string[]>([]);
  const { attempt, failed } = useAttempt();
  const settled = useSettled(search, 250);
  const { data: kept, error } = useQuery(personQuery(workspace, person));
  const { data: found } = useQuery({
    ...foundQuery(workspace, settled),
    placeholderData: keepPreviousData,
  });
  const preview = useQuery({
    ...mergeQuery(workspace, person, other?.id, fields),
    enabled: other !== null,
    placeholderData: keepPreviousData,
  });
  if (!kept) return <Loading error={error} />;
  const back = `/w/${workspace}/people/${person}`;
  const merge = async () => {
    await attempt(async () => {
      await take(
        api.POST("/api/workspaces/{workspace}/people/{person}/merge", {
          params: { path: { workspace, person } },
          body: { other: other?.id ?? "", fields },
        }),
      );
      await reload("person", "people", "trail");
      await go(back);
    });
  };
  const choose = (line: Line, gone: boolean) =>
    setFields(gone ? [...fields, line.key] : fields.filter((one) => one !== line.key));
  return (
    <Sheet
      title={`Merge ${kept.name || kept.address}`}
      name="Merge"
      back={{ to: back, label: kept.name || kept.address }}
    >
      <Problem error={failed ?? preview.error} />
      <Band name="Who" note="is the same person">
        <BandRow>
          <Stack spacing={1} sx={{ py: 1 }}>
            <Typography>
              <strong>{kept.address}</strong> stays. The other one goes into it, with everything
              that is known of them.
            </Typography>
            <Autocomplete<Other>
              options={(found?.people ?? []).filter((one) => one.id !== person)}
              value={other}
              onChange={(_, value) => {
                setOther(value);
                setFields([]);
              }}
              onInputChange={(_, value) => setSearch(value)}
              filterOptions={(rows) => rows}
              getOptionKey={(one) => one.id}
              getOptionLabel={(one) => (one.name ? `${one.name}, ${one.address}` : one.address)}
              isOptionEqualToValue={(a, b) => a.id === b.id}
              noOptionsText="No matches"
              sx={{ maxWidth: 460 }}
              renderInput={(params) => (
                <TextField {...params} label="The duplicate" placeholder="Name or address" />
              )}
            />
          </Stack>
        </BandRow>
      </Band>
      {other && preview.data && (
        <>
          <ScrollTable size="small" sx={{ mt: 2, bgcolor: "background.paper" }}>
            <TableHead>
              <TableRow>
                <TableCell sx={{ pl: 1.5 }}>What</TableCell>
                <TableCell>{kept.address} (stays)</TableCell>
                <TableCell>{other.address} (goes)</TableCell>
                <TableCell>After the merge</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {preview.data.lines.map((line) => (
                <TableRow key={`${line.about}/${line.key}`}>
                  <TableCell sx={{ pl: 1.5 }}>
                    <Typography variant="caption" color="textSecondary" component="div">
                      {ABOUT[line.about]}
                    </Typography>
                    {line.name}
                  </TableCell>
                  {(["kept", "gone"] as const).map((side) => (
                    <TableCell key={side} sx={{ overflowWrap: "anywhere" }}>
                      {line.open && (
                        <Radio
                          size="small"
                          sx={{ p: 0.25, mr: 0.5 }}
                          checked={fields.includes(line.key) === (side === "gone")}
                          onChange={() => choose(line, side === "gone")}
                          slotProps={{
                            input: { "aria-label": `${line.name}: keep ${line[side]}` },
                          }}
                        />
                      )}
                      {line[side] || "—"}
                    </TableCell>
                  ))}
                  <TableCell sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>
                    {line.result || "—"}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </ScrollTable>
          <Typography variant="body2" color="textSecondary" sx={{ pt: 1.5 }}>
            Submissions, emails, tasks and the trail of both are together afterwards. On a list that
            either has left, they have left. For a day the two can be parted again.
          </Typography>
          <Button variant="contained" sx={{ mt: 1.5 }} onClick={() => void merge()}>
            Merge the two
          </Button>
        </>
      )}
    </Sheet>
  );
}
