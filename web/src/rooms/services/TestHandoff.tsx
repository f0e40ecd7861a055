import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useMutation } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import { mono } from "../../theme";
import type { Handover, Service } from "./queries";
import { usePassingSample } from "./SampleContext";

/** Hands the sample over now, marked as a test; shows the answer, and can take it away again. */
export function TestHandoff({ service, handover }: { service: Service; handover: Handover }) {
  const workspace = useSlug();
  const passing = usePassingSample();
  const test = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/workspaces/{workspace}/services/{service}/test", {
          params: { path: { workspace, service: service.id } },
          body: { handover, ...passing, person: null, looks: false },
        }),
      ),
    onMutate: () => away.reset(),
    onError: () => undefined,
  });
  const away = useMutation({
    mutationFn: (handoff: string) =>
      take(
        api.POST("/api/workspaces/{workspace}/handoffs/{handoff}/take-away", {
          params: { path: { workspace, handoff } },
        }),
      ),
    onError: () => undefined,
  });
  const removes = service.description.operations.some((one) => one.does === "erase");
  const { data } = test;
  return (
    <Box>
      <Button
        variant="outlined"
        disabled={test.isPending || (passing.answers.length === 0 && !passing.sequence)}
        onClick={() => test.mutate()}
      >
        {test.isPending ? "Sending …" : "Send the sample as a test"}
      </Button>
      <Problem error={test.error} />
      {data && (
        <Box
          sx={{
            borderLeft: 3,
            borderColor: data.done ? "primary.main" : "error.main",
            pl: 1.5,
            mt: 1,
          }}
        >
          <Typography variant="body2" role="status">
            {data.done ? `${service.name} took it.` : data.outcome} {data.done && data.outcome}
          </Typography>
          <Typography
            component="pre"
            sx={{
              fontFamily: mono,
              fontSize: 12.5,
              m: 0,
              whiteSpace: "pre-wrap",
              overflowWrap: "anywhere",
            }}
          >
            {data.request}
            {"\n\n"}
            {data.status ?? ""} {data.answer}
          </Typography>
          {data.done && (
            <Stack direction="row" spacing={2} sx={{ alignItems: "center", pt: 0.5 }}>
              {data.see && (
                <a href={data.see} target="_blank" rel="noreferrer">
                  See it there
                </a>
              )}
              {removes && !away.data && (
                <Button disabled={away.isPending} onClick={() => away.mutate(data.handoff)}>
                  Take it away again
                </Button>
              )}
              {away.data && <Typography variant="body2">{away.data.outcome}</Typography>}
            </Stack>
          )}
          <Problem error={away.error} />
        </Box>
      )}
    </Box>
  );
}
