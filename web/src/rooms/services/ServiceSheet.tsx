import { useState } from "react";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { Link, useNavigate, useParams } from "react-router";
import { api, take } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { SaveNote } from "../../drafts/SaveNote";
import { Unsaved } from "../../drafts/Unsaved";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { ConfirmDialog } from "../../parts/ConfirmDialog";
import { MoreMenu } from "../../parts/MoreMenu";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { ConnectionBand } from "./ConnectionBand";
import { FieldsBand } from "./FieldsBand";
import { Handoffs } from "./Handoffs";
import { HearsBand } from "./HearsBand";
import { useService, useServiceAct, type Service } from "./queries";
import { useServiceSettings } from "./useServiceSettings";
import { CONNECTION } from "./words";

/** One service: the connection, what it takes, what it tells, and what was handed over. */
export function ServiceSheet() {
  const workspace = useSlug();
  const { service: pk = "" } = useParams();
  const { data: service, error } = useService(pk);
  if (!service) return <Loading error={error} />;
  return <Opened key={service.id} service={service} workspace={workspace} />;
}

function Opened({ service, workspace }: { service: Service; workspace: string }) {
  const mayChange = useMayChange();
  const act = useServiceAct(service.id);
  const settings = useServiceSettings(service);
  const { draft } = settings;
  const state = CONNECTION[service.state];
  return (
    <Sheet
      title={service.name}
      name={service.name}
      back={{ to: `/w/${workspace}/services`, label: "Services" }}
      state={
        <>
          <StateWord state={state?.mark ?? "draft"} word={state?.word ?? service.state} />
          <Typography variant="body2" color="textSecondary">
            {service.purpose || service.kind}
          </Typography>
          {mayChange && draft.canUndo && (
            <SaveNote state={draft.state} slow={draft.slow} saved="Saved" />
          )}
        </>
      }
      actions={
        mayChange && (
          <>
            <More service={service} />
            <Button
              variant="outlined"
              disabled={act.isPending}
              onClick={() =>
                act.mutate((path) =>
                  take(
                    service.state === "paused"
                      ? api.POST("/api/workspaces/{workspace}/services/{service}/resume", {
                          params: { path },
                        })
                      : api.POST("/api/workspaces/{workspace}/services/{service}/pause", {
                          params: { path },
                        }),
                  ),
                )
              }
            >
              {service.state === "paused" ? "Resume" : "Pause"}
            </Button>
          </>
        )
      }
    >
      <Problem error={act.error} />
      <Unsaved draft={draft} load={settings.load} />
      <ConnectionBand service={service} settings={settings} readOnly={!mayChange} />
      {service.hands_over && <FieldsBand service={service} readOnly={!mayChange} />}
      {service.hears && <HearsBand service={service} settings={settings} readOnly={!mayChange} />}
      {service.hands_over && <UsedBy service={service} />}
      {service.hands_over && <Handoffs service={service} />}
    </Sheet>
  );
}

function UsedBy({ service }: { service: Service }) {
  const workspace = useSlug();
  return (
    <Band name="Used by" note={service.uses.length ? "" : "nothing yet"}>
      <BandRow>
        {service.uses.length === 0 ? (
          <Typography color="textSecondary">
            Nothing hands anybody over yet. Add a rule “Hand to a service” to a route, or a step to
            a sequence.
          </Typography>
        ) : (
          service.uses.map((one) => (
            <Typography key={one.id} variant="body2">
              <Link to={`/w/${workspace}/${one.kind}s/${one.id}`}>{one.name}</Link>{" "}
              {one.live ? "" : "(in its draft)"}
            </Typography>
          ))
        )}
      </BandRow>
    </Band>
  );
}

function More({ service }: { service: Service }) {
  const workspace = useSlug();
  const go = useNavigate();
  const reload = useReload();
  const [asking, setAsking] = useState(false);
  const disconnect = async () => {
    await take(
      api.DELETE("/api/workspaces/{workspace}/services/{service}", {
        params: { path: { workspace, service: service.id } },
      }),
    );
    await reload("services", "catalogue");
    await go(`/w/${workspace}/services`);
  };
  const description = JSON.stringify(service.description, null, 2);
  return (
    <>
      <MoreMenu>
        {(close) => [
          <MenuItem
            key="export"
            component="a"
            href={`data:application/json;charset=utf-8,${encodeURIComponent(description)}`}
            download={`${service.kind.toLowerCase().replace(/\W+/g, "-")}.json`}
            onClick={close}
          >
            Export the description
          </MenuItem>,
          <MenuItem
            key="disconnect"
            onClick={() => {
              close();
              setAsking(true);
            }}
          >
            Disconnect
          </MenuItem>,
        ]}
      </MoreMenu>
      {asking && (
        <ConfirmDialog
          title={`Disconnect ${service.name}?`}
          action="Disconnect"
          destroys
          onClose={() => setAsking(false)}
          onConfirm={disconnect}
        >
          Nothing changes over there. What was handed over is no longer listed here.
        </ConfirmDialog>
      )}
    </>
  );
}
