import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { personPlanQuery } from "../../api/broadcasts";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { SAMPLE } from "../../parts/Band";
import { PersonPicker } from "../../parts/PersonPicker";
import { Problem } from "../../parts/Problem";
import { LetterFrame } from "../messages/LetterFrame";

interface PersonBesideProps {
  broadcast: string;
  /** The document, once nobody types any more. */
  document: Schemas["BroadcastDocument"];
}

/** A real person beside a broadcast: would they get it, when, what, and why. */
export function PersonBeside({ broadcast, document }: PersonBesideProps) {
  const workspace = useSlug();
  const [person, setPerson] = useState<Schemas["PersonLine"] | null>(null);
  const [after, setAfter] = useState<string | null>(null);
  const body = { document, person: person?.id ?? null, after: person ? null : after };
  const { data, error } = useQuery({
    ...personPlanQuery(workspace, broadcast, body),
    placeholderData: keepPreviousData,
  });
  const message = document.versions[0]?.message;
  return (
    <Box
      component="aside"
      aria-label="One person"
      sx={[
        {
          px: 2,
          py: 1.75,
          minWidth: 0,
          overflowWrap: "anywhere",
          borderBottom: 1,
          borderColor: "divider",
        },
        ...SAMPLE,
      ]}
    >
      <Problem error={error} />
      {data && (
        <>
          <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "start" }}>
            <Typography sx={{ fontWeight: 600, pt: 0.5 }}>
              <Link to={`/w/${workspace}/people/${data.id}`}>{data.name || data.address}</Link>
            </Typography>
            <Button
              onClick={() => {
                setPerson(null);
                setAfter(data.id);
              }}
            >
              Another
            </Button>
          </Stack>
          <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
            {data.consent}
          </Typography>
          <Typography
            sx={{ fontWeight: 600 }}
            color={data.gets ? "textPrimary" : "warning"}
            role="status"
          >
            {data.sentence}
          </Typography>
          <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
            {data.reasons.join(" · ")}
          </Typography>
        </>
      )}
      {data === null && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
          Nobody gets it yet. Choose the list in To, or look somebody up.
        </Typography>
      )}
      <PersonPicker label="Look up somebody" value={person} onChange={setPerson} />
      {data && (
        <Typography sx={{ mt: 1.5, fontWeight: 600 }}>{data.subject || data.problem}</Typography>
      )}
      {data?.html && message && (
        <Box sx={{ mt: 1 }}>
          <LetterFrame
            key={message}
            title={`The letter for ${data.name || data.address}`}
            src={`/api/workspaces/${workspace}/messages/${message}/preview.html?person=${data.id}`}
            html={data.html}
            dark={false}
            width="100%"
            height={420}
          />
        </Box>
      )}
    </Box>
  );
}
