import Box from "@mui/material/Box";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { fileRowsQuery } from "../../../api/sources";
import { useCatalogue, useSlug } from "../../../api/workspace";
import { Problem } from "../../../parts/Problem";
import { ScrollTable } from "../../../parts/ScrollTable";
import type { RouteDocument } from "../routeDocument";
import type { FileOut } from "./useFiles";

/** The first rows of the file, as the sheet reads them: by field, not by column. */
export function FileRows({ file, document }: { file: FileOut; document: RouteDocument }) {
  const workspace = useSlug();
  const { data: catalogue } = useCatalogue();
  const { data, error } = useQuery({
    ...fileRowsQuery(workspace, file, document),
    placeholderData: keepPreviousData,
  });
  if (!data) return <Problem error={error} />;
  const lines = document.read_as.filter((one) => one.field);
  const label = (id: string | null | undefined) =>
    catalogue?.fields.find((one) => one.id === id)?.label ?? "";
  const mapped = lines.length > 0;
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ py: 0.5 }}>
        {mapped ? "The first rows, as mapped below" : "The first rows, as they are in the file"}
      </Typography>
      <ScrollTable size="small">
        <TableHead>
          <TableRow>
            <TableCell>Row</TableCell>
            {mapped
              ? lines.map((one) => <TableCell key={one.id}>{label(one.field)}</TableCell>)
              : file.headings.map((one) => <TableCell key={one}>{one}</TableCell>)}
          </TableRow>
        </TableHead>
        <TableBody>
          {data.map((row) => (
            <TableRow key={row.number}>
              <TableCell>{row.number}</TableCell>
              {row.problem ? (
                <TableCell colSpan={99}>
                  <Typography variant="body2" color="error">
                    {row.problem.sentence} {row.problem.fix}
                  </Typography>
                </TableCell>
              ) : mapped ? (
                lines.map((one) => {
                  const report = row.decision?.reading.find((line) => line.line === one.id);
                  return (
                    <TableCell
                      key={one.id}
                      sx={{ color: report?.problem ? "error.main" : undefined }}
                    >
                      {report?.problem ? report.problem.sentence : inWords(report?.value)}
                    </TableCell>
                  );
                })
              ) : (
                row.answers.map((one) => <TableCell key={one.name}>{one.text}</TableCell>)
              )}
            </TableRow>
          ))}
        </TableBody>
      </ScrollTable>
    </Box>
  );
}

function inWords(value: string | boolean | string[] | null | undefined): string {
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) return value.join(", ");
  return value || "—";
}
