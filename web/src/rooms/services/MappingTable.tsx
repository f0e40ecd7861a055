import { counted } from "../../parts/formats";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { AddMenu } from "../../parts/AddMenu";
import { useMoments } from "../../parts/moment";
import { newId } from "../../parts/newId";
import { FieldMade } from "./FieldMade";
import { FilledWith } from "./FilledWith";
import { fillings, type Filling } from "./mapping";
import type { Handover, Service } from "./queries";
import { ReadAgain } from "./ReadAgain";
import { usePassingSample } from "./SampleContext";
import { useHandoverSample } from "./useHandoverSample";
import { FAR_TYPES } from "./words";

// By the room that there is: a sheet has more of it than the panel of a step.
const WIDE = "@container (min-width: 600px)";
const COLUMNS = {
  gridTemplateColumns: "minmax(0, 1fr)",
  [WIDE]: { gridTemplateColumns: "minmax(0, 4fr) minmax(0, 5fr) minmax(0, 5fr) 76px" },
};

interface MappingTableProps {
  handover: Handover;
  service: Service;
  catalogue: Schemas["CatalogueOut"];
  asked: { name: string; label: string }[];
  readOnly: boolean;
  onChange: (handover: Handover) => void;
}

/** Both sides, line by line: the field over there, what fills it, and what it makes of the sample. */
export function MappingTable(props: MappingTableProps) {
  const { handover, service, catalogue, asked, readOnly, onChange } = props;
  const moments = useMoments();
  const [making, setMaking] = useState(false);
  const passing = usePassingSample();
  const { data: sample } = useHandoverSample(service, handover);
  const all = useMemo(() => fillings(catalogue.fields, asked), [catalogue.fields, asked]);
  const setLines = (lines: Schemas["FarLine"][]) => onChange({ ...handover, lines });
  const used = new Set(handover.lines.map((one) => one.to));
  const left = service.fields.filter((one) => !used.has(one.key));
  const add = (to: string) =>
    setLines([...handover.lines, { id: newId("m"), to, take: "field", what: "", fallback: "" }]);
  return (
    <Box
      role="group"
      aria-label={`Fields of ${service.name}`}
      sx={{ containerType: "inline-size" }}
    >
      <Box
        sx={{ gap: 1, ...COLUMNS, display: "none", [WIDE]: { display: "grid", ...COLUMNS[WIDE] } }}
      >
        <Head>{service.name}</Head>
        <Head>Filled with</Head>
        <Head>The sample, as it would be sent</Head>
      </Box>
      {passing.sequence && sample?.of && (
        <Typography variant="caption" color="textSecondary" component="div">
          The sample is {sample.of}, the last to come in.
        </Typography>
      )}
      {handover.lines.map((line) => (
        <Line
          key={line.id}
          line={line}
          field={service.fields.find((one) => one.key === line.to)}
          all={all}
          filled={sample?.lines.find((one) => one.line === line.id)}
          concern={sample?.concerns.find((one) => one.line === line.id)}
          lookedAt={sample?.looked_at ?? 0}
          readOnly={readOnly}
          onChange={(next) =>
            setLines(handover.lines.map((one) => (one.id === next.id ? next : one)))
          }
          onRemove={() => setLines(handover.lines.filter((one) => one.id !== line.id))}
        />
      ))}
      {sample?.problems
        .filter((one) => !handover.lines.some((line) => line.id === one.place))
        .map((one) => (
          <Typography key={one.code + one.place} variant="body2" color="error" sx={{ pt: 0.5 }}>
            {one.sentence} {one.fix}
          </Typography>
        ))}
      {!readOnly && (
        <Stack
          direction="row"
          spacing={1}
          useFlexGap
          sx={{ flexWrap: "wrap", alignItems: "center", pt: 0.75 }}
        >
          {left.length > 0 && (
            <AddMenu
              label="Add a field …"
              options={left.map((one): [string, string] => [one.key, named(one)])}
              onAdd={add}
            />
          )}
          {service.description.make_field && (
            <Button onClick={() => setMaking(true)}>Create a field there</Button>
          )}
          <ReadAgain service={service} />
          <Typography variant="caption" color="textSecondary">
            {counted(service.fields.length, "field", "fields")} there
            {service.read_at && `, read ${moments.moment(service.read_at)}`}
          </Typography>
        </Stack>
      )}
      {making && (
        <FieldMade
          service={service}
          onClose={() => setMaking(false)}
          onMade={(made) => add(made)}
        />
      )}
    </Box>
  );
}

function Head({ children }: { children: React.ReactNode }) {
  return (
    <Typography variant="caption" color="textSecondary">
      {children}
    </Typography>
  );
}

function named(field: Schemas["FarField"]): string {
  return field.label || field.key;
}

interface LineProps {
  line: Schemas["FarLine"];
  field: Schemas["FarField"] | undefined;
  all: Filling[];
  filled: Schemas["FilledOut"] | undefined;
  concern: Schemas["Concern"] | undefined;
  lookedAt: number;
  readOnly: boolean;
  onChange: (line: Schemas["FarLine"]) => void;
  onRemove: () => void;
}

function Line(props: LineProps) {
  const { line, field, all, filled, concern, lookedAt, readOnly, onChange, onRemove } = props;
  const name = field ? named(field) : line.to;
  return (
    <Box
      role="group"
      aria-label={name}
      sx={{
        display: "grid",
        ...COLUMNS,
        gap: 1,
        alignItems: "start",
        py: 0.75,
        borderTop: 1,
        borderColor: "divider",
      }}
    >
      <Box sx={{ minWidth: 0, pt: 0.5 }}>
        <Typography variant="body2" color={field ? undefined : "error"}>
          {name}
          {field?.required && (
            <Typography component="span" variant="caption" color="warning">
              {" "}
              required
            </Typography>
          )}
        </Typography>
        <Typography variant="caption" color="textSecondary" component="div">
          {field ? typeOf(field) : "not there any more"}
        </Typography>
      </Box>
      <FilledWith line={line} all={all} name={name} readOnly={readOnly} onChange={onChange} />
      <Box sx={{ minWidth: 0, pt: 0.5, overflowWrap: "anywhere" }}>
        {filled?.problem ? (
          <Typography variant="body2" color="error">
            {filled.problem.sentence}
          </Typography>
        ) : (
          <Typography variant="body2" color={filled?.shown ? undefined : "textSecondary"}>
            <Box component="span" sx={{ color: "text.secondary", [WIDE]: { display: "none" } }}>
              Sent:{" "}
            </Box>
            {filled?.shown || "nothing"}
          </Typography>
        )}
        {filled?.there && filled.there !== filled.shown && (
          <Typography variant="caption" color="textSecondary" component="div">
            there now: {filled.there}
          </Typography>
        )}
        {concern && (
          <Typography variant="caption" color="warning" component="div">
            Goes wrong for {concern.count} of the last {counted(lookedAt, "person", "people")}:{" "}
            {concern.example}
          </Typography>
        )}
      </Box>
      {!readOnly && (
        <Button
          color="inherit"
          aria-label={`Remove ${name}`}
          onClick={onRemove}
          sx={{ justifySelf: "start" }}
        >
          Remove
        </Button>
      )}
    </Box>
  );
}

function typeOf(field: Schemas["FarField"]): string {
  const parts = [FAR_TYPES[field.type]];
  if (field.longest) parts.push(`at most ${field.longest} characters`);
  if (field.choices.length) {
    parts.push(
      field.choices
        .slice(0, 4)
        .map((one) => one.label || one.value)
        .join(", "),
    );
  }
  if (field.group) parts.push(`part of ${field.group}`);
  return parts.join(" · ");
}
