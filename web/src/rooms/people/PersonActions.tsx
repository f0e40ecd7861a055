import { useAttempt } from "../../api/useAttempt";
import Divider from "@mui/material/Divider";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, ApiError, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { MoreMenu } from "../../parts/MoreMenu";
import { NameDialog } from "../../parts/NameDialog";
import { Problem } from "../../parts/Problem";

/** What can be done with a whole person: their record, their page, an address, a merge, erasing. */
export function PersonActions({ person }: { person: Schemas["PersonOut"] }) {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const reload = useReload();
  const go = useNavigate();
  const [asking, setAsking] = useState<"address" | "erase">();
  const [status, setStatus] = useState("");
  const { attempt, failed } = useAttempt();
  const path = { workspace, person: person.id };
  const at = `/api/workspaces/${workspace}/people/${person.id}`;
  const sendPage = async () => {
    await attempt(async () => {
      const sent = await take(
        api.POST("/api/workspaces/{workspace}/people/{person}/own-page", { params: { path } }),
      );
      setStatus(sent.count ? "The link is on its way" : "A link went out a few minutes ago");
    });
  };
  const changeAddress = async (address: string) => {
    try {
      const found = await take(
        api.PUT("/api/workspaces/{workspace}/people/{person}/address", {
          params: { path },
          body: { address },
        }),
      );
      setAsking(undefined);
      await reload("person", "trail", "people");
      if (found.person !== person.id) await go(`/w/${workspace}/people/${found.person}`);
    } catch (caught) {
      // The dialog shows what is wrong with the address beside it.
      throw caught instanceof ApiError ? new Error(caught.at("address") ?? caught.message) : caught;
    }
  };
  const erase = async () => {
    await take(api.POST("/api/workspaces/{workspace}/people/{person}/erase", { params: { path } }));
    await go(`/w/${workspace}/people`, { state: { erased: person.address } });
    await reload("people", "submissions", "desk");
  };
  return (
    <>
      <Typography variant="body2" role="status">
        {status}
      </Typography>
      <Problem error={failed} />
      <MoreMenu>
        {(close) => [
          <MenuItem
            key="read"
            component="a"
            href={`${at}/record`}
            target="_blank"
            rel="noreferrer"
            onClick={close}
          >
            Print the full record
          </MenuItem>,
          <MenuItem key="consent" component="a" href={`${at}/consent.jws`} download onClick={close}>
            Signed consent record
          </MenuItem>,
          <MenuItem key="file" component="a" href={`${at}/record.json`} download onClick={close}>
            Everything known, as a file (JSON)
          </MenuItem>,
          ...(mayChange
            ? [
                <Divider key="rule" />,
                <MenuItem
                  key="page"
                  onClick={() => {
                    close();
                    void sendPage();
                  }}
                >
                  Send them the link to their own page
                </MenuItem>,
                <MenuItem
                  key="address"
                  onClick={() => {
                    close();
                    setAsking("address");
                  }}
                >
                  Change the address
                </MenuItem>,
                <MenuItem
                  key="merge"
                  onClick={() => void go(`/w/${workspace}/people/${person.id}/merge`)}
                >
                  Merge a duplicate
                </MenuItem>,
                <MenuItem
                  key="erase"
                  onClick={() => {
                    close();
                    setAsking("erase");
                  }}
                >
                  Erase everything
                </MenuItem>,
              ]
            : []),
        ]}
      </MoreMenu>
      {asking === "address" && (
        <NameDialog
          title="Change the address"
          label="New address"
          hint="History and lists follow. Somebody who has this address already is merged."
          action="Change it"
          onClose={() => setAsking(undefined)}
          onName={changeAddress}
        />
      )}
      {asking === "erase" && (
        <ConfirmDialog
          title={`Erase ${person.address}?`}
          action="Erase"
          destroys
          onClose={() => setAsking(undefined)}
          onConfirm={erase}
        >
          <Typography variant="body2">
            Everything personal goes: fields, trail, evidence, answers, emails. A code stays, from
            which nobody can read the address, so that no import brings them back. This cannot be
            undone.
          </Typography>
        </ConfirmDialog>
      )}
    </>
  );
}
