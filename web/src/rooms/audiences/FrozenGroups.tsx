import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "../../api/client";
import { groupsQuery } from "../../api/groups";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { number } from "../../parts/formats";
import { useMoments } from "../../parts/moment";
import { MoreMenu } from "../../parts/MoreMenu";
import { NameDialog } from "../../parts/NameDialog";
import { ScrollTable } from "../../parts/ScrollTable";
import { exportItems } from "./exportItems";

type FrozenGroup = Schemas["FrozenGroupOut"];

/** The people of a moment, kept by a name. Nothing where there are none. */
export function FrozenGroups() {
  const { data = [] } = useQuery(groupsQuery(useSlug()));
  if (data.length === 0) return null;
  return (
    <Box component="section" aria-labelledby="frozen-groups" sx={{ mt: 4 }}>
      <Typography id="frozen-groups" variant="h2" sx={{ mb: 0.5 }}>
        Frozen groups
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        The people of one moment. Nobody is added later; only somebody who is erased leaves.
      </Typography>
      <ScrollTable onPaper>
        <TableHead>
          <TableRow>
            <TableCell>Group</TableCell>
            <TableCell>Made of</TableCell>
            <TableCell align="right">People</TableCell>
            <TableCell>Frozen</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {data.map((one) => (
            <FrozenRow key={one.id} group={one} />
          ))}
        </TableBody>
      </ScrollTable>
    </Box>
  );
}

function FrozenRow({ group }: { group: FrozenGroup }) {
  const workspace = useSlug();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const [asking, setAsking] = useState<"name" | "delete" | null>(null);
  const path = { workspace, group: group.id };
  const changed = () => reload("groups", "catalogue");
  const rename = async (name: string) => {
    await take(
      api.PUT("/api/workspaces/{workspace}/groups/{group}/name", {
        params: { path },
        body: { name },
      }),
    );
    await changed();
    setAsking(null);
  };
  const remove = async () => {
    await take(api.DELETE("/api/workspaces/{workspace}/groups/{group}", { params: { path } }));
    await changed();
  };
  return (
    <TableRow>
      <TableCell sx={{ minWidth: 160, overflowWrap: "anywhere" }}>{group.name}</TableCell>
      <TableCell sx={{ overflowWrap: "anywhere" }}>{group.of}</TableCell>
      <TableCell align="right">{number(group.people)}</TableCell>
      <TableCell sx={{ minWidth: 130 }}>
        {moments.moment(group.made_at)}
        {group.made_by && `, ${group.made_by}`}
      </TableCell>
      <TableCell align="right">
        {mayChange && (
          <MoreMenu of={group.name}>
            {(close) => [
              ...exportItems(`/api/workspaces/${workspace}/groups/${group.id}/export`, close),
              <MenuItem
                key="name"
                onClick={() => {
                  close();
                  setAsking("name");
                }}
              >
                Rename
              </MenuItem>,
              <MenuItem
                key="delete"
                onClick={() => {
                  close();
                  setAsking("delete");
                }}
              >
                Delete
              </MenuItem>,
            ]}
          </MoreMenu>
        )}
        {asking === "name" && (
          <NameDialog
            title="Rename the group"
            label="Name"
            hint="Only members see it."
            action="Rename"
            starts={group.name}
            onClose={() => setAsking(null)}
            onName={rename}
          />
        )}
        {asking === "delete" && (
          <ConfirmDialog
            title={`Delete “${group.name}”?`}
            action="Delete"
            onClose={() => setAsking(null)}
            onConfirm={remove}
          >
            The people stay. Who was in the group is then known nowhere.
          </ConfirmDialog>
        )}
      </TableCell>
    </TableRow>
  );
}
