import { useAttempt } from "../../api/useAttempt";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { toldOfQuery } from "../../api/settings";
import { api, take, type Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";

type Kind = Schemas["NoticeSettings"]["kinds"][number];

const KINDS: [Kind, string][] = [
  ["attention", "Something needs attention"],
  ["turned_on", "Somebody else turned on a change"],
  ["many", "Many people enter or leave a sequence in one day"],
];

/** What the member who is signed in is told of by email. It is saved at once. */
export function ToldOf() {
  const workspace = useSlug();
  const client = useQueryClient();
  const { attempt, failed } = useAttempt();
  const path = { workspace };
  const { data, error } = useQuery(toldOfQuery(workspace));
  const choose = async (kind: Kind, wanted: boolean) => {
    const kinds = (data?.kinds ?? []).filter((one) => one !== kind);
    await attempt(async () => {
      const kept = await take(
        api.PUT("/api/workspaces/{workspace}/told-of", {
          params: { path },
          body: { kinds: wanted ? [...kinds, kind] : kinds },
        }),
      );
      client.setQueryData(toldOfQuery(workspace).queryKey, kept);
    });
  };
  return (
    <Band name="Emails to you">
      <BandRow>
        <Typography variant="body2" color="textSecondary">
          {data && `They go to ${data.address}. Your choice is saved at once.`}
        </Typography>
        <Stack>
          {KINDS.map(([kind, label]) => (
            <FormControlLabel
              key={kind}
              control={
                <Checkbox
                  size="small"
                  checked={data?.kinds.includes(kind) ?? false}
                  disabled={!data}
                  onChange={(event) => void choose(kind, event.target.checked)}
                />
              }
              label={label}
            />
          ))}
        </Stack>
        <Problem error={error ?? failed} />
      </BandRow>
    </Band>
  );
}
