import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { examplesQuery } from "../../api/audiences";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Address } from "../../parts/Address";
import { Band, BandRow } from "../../parts/Band";
import { counted } from "../../parts/formats";
import { Problem } from "../../parts/Problem";
import type { Group } from "../conditions/condition";

type Part = Schemas["Explained"];

/** Ten whom a condition fits, and some who miss one part of it: what was seen of each. */
export function AudienceExamples({ condition }: { condition: Group }) {
  const { data, error } = useQuery({
    ...examplesQuery(useSlug(), condition),
    placeholderData: keepPreviousData,
  });
  return (
    <Band name="Ten of them" note="the newest, and why they fit">
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
            <div>
              <Title>Fit</Title>
              {data.fit.length === 0 && <Quiet>Nobody fits.</Quiet>}
              <People people={data.fit} />
            </div>
            {data.nearly.length > 0 && (
              <div>
                <Title>Would fit but for one part</Title>
                {data.nearly.map((one, index) => (
                  <Box key={index} sx={{ pb: 1 }}>
                    <Quiet>
                      <strong>{counted(one.people, "more person", "more people")}</strong> without:{" "}
                      {one.part}
                    </Quiet>
                    <People people={one.some} />
                  </Box>
                ))}
              </div>
            )}
          </Box>
        )}
      </BandRow>
    </Band>
  );
}

function Title({ children }: { children: ReactNode }) {
  return (
    <Typography variant="body2" component="h3" sx={{ fontWeight: 600, mb: 0.5 }}>
      {children}
    </Typography>
  );
}

function Quiet({ children }: { children: ReactNode }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
      {children}
    </Typography>
  );
}

function People({ people }: { people: Schemas["ExamplePerson"][] }) {
  const workspace = useSlug();
  return people.map((one) => (
    <Box key={one.id} sx={{ py: 0.75, borderTop: 1, borderColor: "divider" }}>
      <Link to={`/w/${workspace}/people/${one.id}`}>
        {one.name || <Address of={one.address} />}
      </Link>
      {one.because.of.map((part, index) => (
        <Seen key={index} part={part} />
      ))}
    </Box>
  ));
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
