import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { sizeQuery } from "../../api/audiences";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { number } from "../../parts/formats";
import { Problem } from "../../parts/Problem";
import { percent } from "../../parts/share";
import type { Group } from "../conditions/condition";
import { peopleWho } from "../conditions/people";

/** How many people a condition fits, of how many, and how many of them are on which list. */
export function AudienceSize({ condition }: { condition: Group }) {
  const workspace = useSlug();
  const { data, error, isFetching } = useQuery({
    ...sizeQuery(workspace, condition),
    placeholderData: keepPreviousData,
  });
  return (
    <Band name="How many" note={isFetching ? "counting …" : "now"}>
      <BandRow>
        <Problem error={error} />
        {data && (
          <>
            <Typography sx={{ fontSize: "1.75rem", fontWeight: 600, lineHeight: 1.2 }}>
              {number(data.people)}
            </Typography>
            <Typography variant="body2" color="textSecondary">
              {percent(data.people, data.of)} of {number(data.of)} people ·{" "}
              <Link to={peopleWho(workspace, condition)}>Show them</Link>
            </Typography>
            <Box sx={{ maxWidth: 480, my: 1 }}>
              <LinearProgress
                variant="determinate"
                value={data.of ? (100 * data.people) / data.of : 0}
                aria-label={`${percent(data.people, data.of)} of all people`}
              />
            </Box>
            <Typography variant="body2">
              {data.lists.length === 0
                ? "None of them is subscribed to a list."
                : `Subscribed: ${data.lists
                    .slice(0, 5)
                    .map((one) => `${number(one.people)} to ${one.name}`)
                    .join(" · ")}`}
            </Typography>
          </>
        )}
      </BandRow>
    </Band>
  );
}
