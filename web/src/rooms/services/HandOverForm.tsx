import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSlug } from "../../api/workspace";
import { Picker } from "../../parts/Picker";
import { useComeBack } from "../../parts/useBack";
import { Check } from "./Check";
import { ChosenForm } from "./ChosenForm";
import { MappingTable } from "./MappingTable";
import { proposeLines } from "./mapping";
import { useService, type Handover } from "./queries";
import { TestHandoff } from "./TestHandoff";
import { useFreshFields } from "./useFreshFields";

interface HandOverFormProps {
  handover: Handover;
  catalogue: Schemas["CatalogueOut"];
  asked: { name: string; label: string }[];
  readOnly: boolean;
  onChange: (handover: Handover) => void;
}

/** To which service, what it does there, with what chosen, and which values go along. */
export function HandOverForm(props: HandOverFormProps) {
  const { handover, catalogue, asked, readOnly, onChange } = props;
  const workspace = useSlug();
  const comeBack = useComeBack();
  const { data: service } = useService(handover.service ?? "");
  useFreshFields(service, readOnly);
  const operation = service?.description.operations.find((one) => one.key === handover.operation);
  const choose = (key: string) => {
    if (!service) return;
    const next = service.description.operations.find((one) => one.key === key);
    const lines = next?.fields
      ? proposeLines(service.fields, catalogue.fields, handover.lines)
      : [];
    onChange({ ...handover, operation: key, chosen: {}, lines });
  };
  return (
    <Stack spacing={1.5} sx={{ pt: 1 }}>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
        <Stack sx={{ width: 220 }}>
          <Picker
            label="Service"
            options={catalogue.services.filter((one) => one.hands_over)}
            value={handover.service ?? null}
            disabled={readOnly}
            onChange={(chosen) =>
              onChange({ ...handover, service: chosen, operation: "", chosen: {}, lines: [] })
            }
          />
        </Stack>
        {service && (
          <TextField
            select
            label="What it does"
            value={operation ? handover.operation : ""}
            disabled={readOnly}
            onChange={(event) => choose(event.target.value)}
            sx={{ width: 200 }}
          >
            {service.description.operations.map((one) => (
              <MenuItem key={one.key} value={one.key}>
                {one.label}
              </MenuItem>
            ))}
          </TextField>
        )}
        {service && (
          <Link to={`/w/${workspace}/services/${service.id}`} state={comeBack}>
            Open it
          </Link>
        )}
      </Stack>
      {catalogue.services.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          No service is connected. <Link to={`/w/${workspace}/services`}>Connect one</Link>
        </Typography>
      )}
      {service && operation && (
        <>
          {operation.needs.map((need) => (
            <ChosenForm
              key={need.name}
              service={service}
              need={need}
              chosen={
                handover.chosen[need.name] ?? { things: [], question: "", rows: [], only: [] }
              }
              asked={asked}
              readOnly={readOnly}
              onChange={(chosen) =>
                onChange({ ...handover, chosen: { ...handover.chosen, [need.name]: chosen } })
              }
            />
          ))}
          {operation.fields && <MappingTable {...props} service={service} />}
          <Options {...props} operation={operation} service={service} />
          {!readOnly && <TestHandoff service={service} handover={handover} />}
        </>
      )}
    </Stack>
  );
}

function Options({
  handover,
  catalogue,
  readOnly,
  operation,
  service,
  onChange,
}: HandOverFormProps & { operation: Schemas["Operation"]; service: Schemas["ServiceOut"] }) {
  const list = handover.list ?? service.settings.list_id ?? null;
  return (
    <Stack direction="row" spacing={2} useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
      {operation.marketing && (
        <Stack sx={{ width: 240 }}>
          <Picker
            label="Only subscribers of"
            options={catalogue.lists}
            value={list}
            disabled={readOnly}
            onChange={(chosen) => onChange({ ...handover, list: chosen })}
          />
        </Stack>
      )}
      {operation.options.includes("update") && (
        <Check
          label="Update people who are there already"
          checked={handover.update}
          readOnly={readOnly}
          onChange={(update) => onChange({ ...handover, update })}
        />
      )}
      {operation.options.includes("confirm") && (
        <Check
          label="The service asks them to confirm"
          checked={handover.confirm}
          readOnly={readOnly}
          onChange={(confirm) => onChange({ ...handover, confirm })}
        />
      )}
      {operation.fields && (
        <TextField
          select
          label="If a value does not fit"
          value={handover.if_wrong}
          disabled={readOnly}
          onChange={(event) =>
            onChange({ ...handover, if_wrong: event.target.value as Handover["if_wrong"] })
          }
          sx={{ width: 240 }}
        >
          <MenuItem value="without">hand over without it</MenuItem>
          <MenuItem value="wait">wait until it is fixed</MenuItem>
        </TextField>
      )}
    </Stack>
  );
}
