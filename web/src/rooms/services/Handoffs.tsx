import { follows } from "../../api/stream";
import { counted, number } from "../../parts/formats";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useInfiniteQuery, useMutation } from "@tanstack/react-query";
import { parseAsString, useQueryStates } from "nuqs";
import { handoffsQuery } from "../../api/services";
import { api, take } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";
import { ShowMore } from "../../parts/ShowMore";
import { HandoffRows } from "./HandoffRows";
import type { Service } from "./queries";
import { HANDOFF } from "./words";

/** What was handed over, the newest first, and again what failed. */
export function Handoffs({ service }: { service: Service }) {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const reload = useReload();
  const [{ state, fault }, setShown] = useQueryStates({
    state: parseAsString.withDefault(""),
    fault: parseAsString.withDefault(""),
  });
  const list = useInfiniteQuery({
    ...handoffsQuery(workspace, service.id, state, fault),
    placeholderData: keepPreviousData,
    ...follows(["services"], 3_000),
  });
  const again = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/again", {
          params: { path: { workspace, service: service.id } },
          body: { fault },
        }),
      ),
    onSuccess: () => reload("handoffs", "service", "services", "snags"),
    onError: () => undefined,
  });
  const rows = list.data?.pages.flatMap((one) => one.handoffs) ?? [];
  return (
    <Band
      name="Handoffs"
      id="handoffs"
      note={
        <>
          {counted(service.handed, "person", "people")} in 30 days
          {service.failed > 0 && <div>{number(service.failed)} failed</div>}
        </>
      }
    >
      <BandRow>
        <Stack
          direction="row"
          spacing={2}
          useFlexGap
          sx={{ alignItems: "center", flexWrap: "wrap", py: 0.5 }}
        >
          <TextField
            select
            label="State"
            value={state}
            onChange={(event) => void setShown({ state: event.target.value || null, fault: null })}
            sx={{ width: 190 }}
          >
            <MenuItem value="">all</MenuItem>
            {Object.entries(HANDOFF).map(([key, { word }]) => (
              <MenuItem key={key} value={key}>
                {word}
              </MenuItem>
            ))}
          </TextField>
          {fault && <Button onClick={() => void setShown(null)}>Show all handoffs</Button>}
          {mayChange && service.failed > 0 && (
            <Button variant="outlined" disabled={again.isPending} onClick={() => again.mutate()}>
              {fault ? "Hand these over again" : `Hand over again (${service.failed})`}
            </Button>
          )}
          {again.data && (
            <Typography variant="body2" color="textSecondary" role="status">
              {counted(again.data.count, "handoff is", "handoffs are")} tried again.
            </Typography>
          )}
        </Stack>
        <Problem error={list.error ?? again.error} />
        {rows.length === 0 && !list.isPending && (
          <Typography variant="body2" color="textSecondary">
            {state || fault ? "None." : "Nobody was handed over yet."}
          </Typography>
        )}
        <HandoffRows rows={rows} />
        <ShowMore pages={list} />
      </BandRow>
    </Band>
  );
}
