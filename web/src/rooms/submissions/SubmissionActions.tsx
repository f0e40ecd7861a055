import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take, type Schemas } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { Problem } from "../../parts/Problem";

type Line = Pick<
  Schemas["SubmissionLine"],
  "id" | "source" | "state" | "is_test" | "forgotten" | "person"
>;

/** What can be done with the submissions that are marked; each button says how many it touches. */
export function SubmissionActions(props: {
  submissions: Line[];
  onDone: (removed: boolean) => void;
}) {
  const { submissions, onDone } = props;
  const workspace = useSlug();
  const reload = useReload();
  const go = useNavigate();
  const [asking, setAsking] = useState(false);
  const { attempt, failed } = useAttempt();
  const params = { path: { workspace } };
  const ids = (rows: Line[]) => rows.map((one) => one.id);
  const waiting = submissions.filter((one) => one.state === "received");
  const held = submissions.filter((one) => one.state === "held");
  const real = submissions.filter((one) => !one.is_test);
  const tests = submissions.filter((one) => one.is_test);
  // A replay goes by the route of one source.
  const sources = new Set(submissions.map((one) => one.source));
  const [source] = sources.size === 1 ? sources : [];
  const replayable = ids(
    real.filter((one) => ["routed", "stuck"].includes(one.state) && !one.forgotten),
  );
  const done = async (asked: Promise<unknown>, removed = false) => {
    await asked;
    setAsking(false);
    onDone(removed);
    await reload("submissions", "submission", "source", "sources", "people", "desk");
  };
  const act = (asked: Promise<unknown>) => attempt(() => done(asked));
  if (submissions.length === 0) return null;
  const mark = (rows: Line[], is_test: boolean) =>
    act(
      take(
        api.POST("/api/workspaces/{workspace}/submissions/test", {
          params,
          body: { submissions: ids(rows), is_test },
        }),
      ),
    );
  const move = (what: "hold" | "release", rows: Line[]) =>
    act(
      take(
        api.POST(`/api/workspaces/{workspace}/submissions/${what}`, {
          params,
          body: { submissions: ids(rows) },
        }),
      ),
    );
  return (
    <Stack direction="row" spacing={1} useFlexGap sx={{ pb: 1, flexWrap: "wrap" }}>
      {held.length > 0 && (
        <Button variant="contained" onClick={() => void move("release", held)}>
          Let {held.length} through
        </Button>
      )}
      {waiting.length > 0 && (
        <Button variant="outlined" onClick={() => void move("hold", waiting)}>
          Hold {waiting.length}
        </Button>
      )}
      {real.length > 0 && (
        <Button variant="outlined" onClick={() => void mark(real, true)}>
          Mark {real.length} as test
        </Button>
      )}
      {tests.length > 0 && (
        <Button variant="outlined" onClick={() => void mark(tests, false)}>
          Count {tests.length} as real
        </Button>
      )}
      {replayable.length > 0 && source && (
        <Button
          variant="outlined"
          onClick={() =>
            void go(`/w/${workspace}/sources/${source}/replay?submissions=${replayable.join(",")}`)
          }
        >
          Replay {replayable.length}
        </Button>
      )}
      <Button color="error" variant="outlined" onClick={() => setAsking(true)}>
        Remove {submissions.length}
      </Button>
      <Problem error={failed} />
      {asking && (
        <Remove
          submissions={submissions}
          onClose={() => setAsking(false)}
          onRemove={(with_people) =>
            done(
              take(
                api.POST("/api/workspaces/{workspace}/submissions/remove", {
                  params,
                  body: { submissions: ids(submissions), with_people },
                }),
              ),
              true,
            )
          }
        />
      )}
    </Stack>
  );
}

interface RemoveProps {
  submissions: Line[];
  onClose: () => void;
  onRemove: (withPeople: boolean) => Promise<void>;
}

function Remove({ submissions, onClose, onRemove }: RemoveProps) {
  const [withPeople, setWithPeople] = useState(false);
  const people = new Set(submissions.map((one) => one.person).filter(Boolean)).size;
  return (
    <ConfirmDialog
      title={`Remove ${counted(submissions.length, "submission", "submissions")}?`}
      action="Remove"
      destroys
      onClose={onClose}
      onConfirm={() => onRemove(withPeople)}
    >
      <Typography variant="body2" sx={{ mb: 1 }}>
        The answers are gone for good. What they did to people stays, unless those go too.
      </Typography>
      {people > 0 && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={withPeople}
              onChange={(event) => setWithPeople(event.target.checked)}
            />
          }
          label={`Also remove ${counted(people, "person", "people")} and everything known of them`}
        />
      )}
    </ConfirmDialog>
  );
}
