import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { examplesQuery } from "../../api/audiences";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Address } from "../../parts/Address";
import { Band, BandRow } from "../../parts/Band";
import { Problem } from "../../parts/Problem";
import type { Group } from "../conditions/condition";

type Part = Schemas["Explained"];

/** Ten whom a condition fits, and ten who miss one part of it: what was seen of each. */
export function AudienceExamples({ condition }: { condition: Group }) {
  const { data, error } = useQuery({
    ...examplesQuery(useSlug(), condition),
    placeholderData: keepPreviousData,
  });
  return (
    <Band name="Ten of them" note="the newest, with why">
      <BandRow>
        <Problem error={error} />
        {data && (
          <Box
            sx={{
              display: "grid",
              gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "repeat(2, minmax(0, 1fr))" },
              gap: 3,
            }}
          >
            <People title="In it" none="Nobody fits." people={data.fit} />
            {condition.kind === "all" && condition.of.length > 1 && (
              <People
                title="Not in it, for one part alone"
                none="Nobody misses just one part."
                people={data.nearly}
              />
            )}
          </Box>
        )}
      </BandRow>
    </Band>
  );
}

function People(props: { title: string; none: string; people: Schemas["ExamplePerson"][] }) {
  const { title, none, people } = props;
  const workspace = useSlug();
  return (
    <div>
      <Typography variant="body2" component="h3" sx={{ fontWeight: 600, mb: 0.5 }}>
        {title}
      </Typography>
      {people.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          {none}
        </Typography>
      )}
      {people.map((one) => (
        <Box key={one.id} sx={{ py: 0.75, borderTop: 1, borderColor: "divider" }}>
          <Link to={`/w/${workspace}/people/${one.id}`}>
            {one.name || <Address of={one.address} />}
          </Link>
          {one.because.of.map((part, index) => (
            <Seen key={index} part={part} />
          ))}
        </Box>
      ))}
    </div>
  );
}

/** A part of the condition, with what was seen of the person. */
function Seen({ part }: { part: Part }) {
  return (
    <Typography
      variant="caption"
      component="div"
      color={part.held ? "textSecondary" : "warning"}
      sx={{ overflowWrap: "anywhere" }}
    >
      {part.held ? "✓" : "✗"} {part.sentence}
      {part.seen && `: ${part.seen}`}
    </Typography>
  );
}
