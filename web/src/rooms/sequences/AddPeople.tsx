import { follows } from "../../api/stream";
import { counted, number } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { countQuery } from "../../api/people";
import { admissionsQuery } from "../../api/sequences";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { useSettled } from "../../parts/useSettled";
import { ConditionGroup } from "../conditions/ConditionGroup";
import type { Group } from "../conditions/condition";
import { PersonPicker } from "../../parts/PersonPicker";

interface AddPeopleProps {
  sequence: Schemas["SequenceOut"];
  catalogue: Schemas["CatalogueOut"];
  onClose: () => void;
}

/** A member adds one person, or everybody whom a condition fits, with the count first. */
export function AddPeople({ sequence, catalogue, onClose }: AddPeopleProps) {
  const workspace = useSlug();
  const reload = useReload();
  const moments = useMoments();
  const lanes = sequence.live?.lanes ?? [];
  const [whom, setWhom] = useState<"one" | "all">("one");
  const [person, setPerson] = useState<Schemas["PersonLine"] | null>(null);
  const [condition, setCondition] = useState<Group>({ kind: "all", of: [] });
  const [lane, setLane] = useState(lanes[0]?.id ?? "");
  const [status, setStatus] = useState("");
  const { attempt, failed, busy } = useAttempt();
  const settled = useSettled(condition, 300);
  const path = { workspace, sequence: sequence.id };
  const count = useQuery({
    ...countQuery(workspace, settled),
    enabled: whom === "all",
    placeholderData: keepPreviousData,
  });
  const admissions = useQuery({
    ...admissionsQuery(workspace, sequence.id),
    ...follows(["runs"], 2_000),
  });
  const add = async () => {
    setStatus("");
    await attempt(async () => {
      if (whom === "one" && person) {
        const { count: entered } = await take(
          api.POST("/api/workspaces/{workspace}/sequences/{sequence}/people", {
            params: { path },
            body: { person: person.id, lane: lane || null },
          }),
        );
        setStatus(
          entered
            ? `${person.name || person.address} has entered.`
            : `${person.name || person.address} was not added: they have been in it, or the door is for others.`,
        );
      } else if (count.data) {
        await take(
          api.POST("/api/workspaces/{workspace}/sequences/{sequence}/everybody", {
            params: { path },
            body: { condition, lane: lane || null, counted: count.data.people },
          }),
        );
        setStatus(`${counted(count.data.people, "person is", "people are")} being added.`);
      }
      await reload("sequence", "sequences", "runs", "admissions", "desk");
    });
  };
  const ready = whom === "one" ? person !== null : (count.data?.people ?? 0) > 0;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Add people to {sequence.name}</DialogTitle>
      <DialogContent>
        <RadioGroup row value={whom} onChange={(_, one) => setWhom(one as "one" | "all")}>
          <FormControlLabel value="one" control={<Radio size="small" />} label="One person" />
          <FormControlLabel
            value="all"
            control={<Radio size="small" />}
            label="Everybody who meets a condition"
          />
        </RadioGroup>
        <Stack spacing={1.5} sx={{ pt: 1 }}>
          {whom === "one" ? (
            <PersonPicker label="Person" value={person} onChange={setPerson} />
          ) : (
            <>
              <ConditionGroup
                group={condition}
                catalogue={catalogue}
                asked={[]}
                readOnly={false}
                onChange={setCondition}
              />
              <Typography role="status">
                {count.data &&
                  `${counted(count.data.people, "person fits", "people fit")}: ${count.data.sentence}.`}
              </Typography>
            </>
          )}
          {lanes.length > 1 && (
            <TextField
              select
              label="Into lane"
              value={lane}
              onChange={(event) => setLane(event.target.value)}
            >
              {lanes.map((one) => (
                <MenuItem key={one.id} value={one.id}>
                  {one.name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <Problem error={failed} />
          <Typography variant="body2" role="status">
            {status}
          </Typography>
          {admissions.data?.slice(0, 5).map((one) => (
            <Typography key={one.id} variant="body2" color="textSecondary">
              {moments.moment(one.made_at)}: {number(one.entered)} of {number(one.counted)} entered
              {one.kept_out > 0 && `, ${one.kept_out} were not added`}
              {one.state === "working" && ", still working"}
            </Typography>
          ))}
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button variant="contained" disabled={busy || !ready} onClick={() => void add()}>
          {whom === "all" && count.data
            ? `Add ${counted(count.data.people, "person", "people")}`
            : "Add"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
