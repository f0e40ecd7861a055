import { follows } from "../../../api/stream";
import { counted } from "../../../parts/formats";
import { useAttempt } from "../../../api/useAttempt";
import Autocomplete from "@mui/material/Autocomplete";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { watchQuery } from "../../../api/sources";
import { api, take, type Schemas } from "../../../api/client";
import { useReload, useSlug } from "../../../api/workspace";
import { Unsaved } from "../../../drafts/Unsaved";
import { Band, BandRow } from "../../../parts/Band";
import { useMoments } from "../../../parts/moment";
import { NumberField } from "../../../parts/NumberField";
import { Problem } from "../../../parts/Problem";
import { useRoute } from "../RouteContext";
import { CameBy } from "./CameBy";
import { SampleAnswers } from "./SampleAnswers";
import { SampleChooser } from "./SampleChooser";
import { useWatchForm } from "./useWatchForm";

/** A sheet that is looked at again and again: where, how often, and what the last look found. */
export function ArrivesSheet() {
  const { source, document, readOnly, answers, onType, choice, seen } = useRoute();
  const workspace = useSlug();
  const { data: watch } = useQuery({
    ...watchQuery(workspace, source.id),
    ...follows(["files"], 2_000),
  });
  return (
    <Band
      name="Arrives"
      id="arrives"
      note={source.state === "draft" ? "not watched yet" : `${source.arrivals.this_week} this week`}
    >
      <BandRow sample={choice && <SampleChooser {...choice} />}>
        <Typography variant="body2" color="textSecondary">
          A published sheet (CSV or XLSX) that is checked regularly. Each new row comes in once,
          even when rows are inserted in the middle or edited.
          {source.state !== "live" && " Rows come in once the sheet is turned on."}
        </Typography>
        {watch && <WatchForm watch={watch} source={source.id} readOnly={readOnly} />}
        {watch && <LastLook watch={watch} />}
      </BandRow>
      <BandRow
        ruled
        sample={choice && <SampleAnswers answers={answers} choice={choice} onType={onType} />}
      >
        <CameBy seen={seen} document={document} />
      </BandRow>
    </Band>
  );
}

function WatchForm(props: { watch: Schemas["WatchOut"]; source: string; readOnly: boolean }) {
  const { watch, source, readOnly } = props;
  const workspace = useSlug();
  const client = useQueryClient();
  const reload = useReload();
  const draft = useWatchForm(source, watch);
  const { form, set, wrong: wrongAt } = draft;
  const { attempt, failed } = useAttempt();
  const [busy, setBusy] = useState(false);
  const path = { workspace, source };
  const changed = draft.state !== "saved";
  /** What is typed is kept as one goes on to the next box, as everything of the sheet is. */
  const keep = async () => {
    if (changed && !busy) await draft.save();
  };
  const look = async () => {
    setBusy(true);
    await attempt(async () => {
      if (!(await draft.save())) return;
      const answer = await take(
        api.POST("/api/workspaces/{workspace}/sources/{source}/watch/look", { params: { path } }),
      );
      client.setQueryData(["watch", workspace, source], answer);
      await reload("seen", "source", "submissions", "snags");
    });
    setBusy(false);
  };
  return (
    <Stack spacing={1.5} sx={{ pt: 1.5 }} onBlur={() => void keep()}>
      <TextField
        label="Address of the published sheet"
        placeholder="https://sheets.example.org/volunteers.csv"
        value={form.address}
        disabled={readOnly}
        onChange={(event) => set({ address: event.target.value })}
      />
      <Stack direction="row" spacing={1.5} sx={{ alignItems: "flex-start" }}>
        <NumberField
          label="Check every (minutes)"
          value={form.minutes}
          disabled={readOnly}
          error={Boolean(wrongAt("minutes"))}
          helperText={wrongAt("minutes")}
          onChange={(minutes) => set({ minutes })}
          sx={{ width: 190 }}
        />
        <Autocomplete
          freeSolo
          options={watch.headings}
          value={form.key_heading}
          disabled={readOnly}
          onInputChange={(_, key_heading) => set({ key_heading })}
          sx={{ flex: 1 }}
          renderInput={(params) => (
            <TextField
              {...params}
              label="Column that identifies each row"
              helperText="One whose values are all different, such as the email address"
            />
          )}
        />
        {!readOnly && (
          <Button
            variant="outlined"
            disabled={busy || !form.address.trim()}
            onClick={() => void look()}
          >
            {changed ? "Save and check now" : "Check now"}
          </Button>
        )}
      </Stack>
      <Unsaved draft={draft} load={draft.load} />
      <Problem error={failed} />
    </Stack>
  );
}

function LastLook({ watch }: { watch: Schemas["WatchOut"] }) {
  const moments = useMoments();
  if (!watch.looked_at) {
    return (
      <Typography variant="body2" color="textSecondary">
        Not checked yet.
      </Typography>
    );
  }
  return (
    <>
      <Typography variant="body2" sx={{ pt: 0.5 }}>
        Checked {moments.moment(watch.looked_at)}: {counted(watch.rows, "row", "rows")},{" "}
        {watch.came} new
        {watch.next_at && ` · next check ${moments.moment(watch.next_at)}`}
      </Typography>
      {watch.problem && (
        <Typography variant="body2" color="error">
          {watch.problem.sentence} {watch.problem.fix}
        </Typography>
      )}
    </>
  );
}
