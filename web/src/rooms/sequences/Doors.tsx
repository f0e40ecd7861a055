import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";
import { StateWord } from "../../parts/StateWord";

/** How people come in: the routes that start this sequence. */
export function Doors({ sequence }: { sequence: string }) {
  const workspace = useSlug();
  const { data, error } = useQuery({
    queryKey: ["sources", workspace, "doors", sequence],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sequences/{sequence}/doors", {
          params: { path: { workspace, sequence } },
        }),
      ),
  });
  return (
    <Band name="Doors" note="once only">
      <Problem error={error} />
      {data?.length === 0 && (
        <BandRow>
          <Typography color="textSecondary">
            No route starts this sequence yet. Choose “Start a sequence” in the Then band of a
            source.
          </Typography>
        </BandRow>
      )}
      {data?.map((door, index) => (
        <BandRow key={door.source} ruled={index > 0}>
          <Typography variant="body2">
            <Link to={`/w/${workspace}/sources/${door.source}#${door.rule}`}>{door.name}</Link>{" "}
            <StateWord
              state={door.live ? "live" : "draft"}
              word={door.live ? "live" : "in the draft"}
            />{" "}
            → lane {door.lane}
          </Typography>
        </BandRow>
      ))}
    </Band>
  );
}
