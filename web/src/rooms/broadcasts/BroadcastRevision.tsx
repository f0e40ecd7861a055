import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { broadcastQuery, broadcastRevisionQuery } from "../../api/broadcasts";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { RevisionPage } from "../../parts/RevisionPage";

/** A revision of a broadcast, to read. */
export function BroadcastRevision() {
  const workspace = useSlug();
  const { broadcast: id = "", number = "1" } = useParams();
  const reload = useReload();
  const { data: broadcast } = useQuery(broadcastQuery(workspace, id));
  const { data, error } = useQuery(broadcastRevisionQuery(workspace, id, Number(number)));
  if (!broadcast || !data) return <Loading error={error} />;
  const path = { workspace, broadcast: id, number: Number(number) };
  const goBack = async () => {
    await take(
      api.POST("/api/workspaces/{workspace}/broadcasts/{broadcast}/revisions/{number}/go-back", {
        params: { path },
        body: { based_on: broadcast.edits },
      }),
    );
    await reload("broadcast");
  };
  return (
    <RevisionPage
      name={broadcast.name}
      back={`/w/${workspace}/broadcasts/${id}`}
      revision={data}
      draft={broadcast}
      onGoBack={goBack}
    >
      <Band name="To">
        <BandRow>
          <Typography>{data.to}</Typography>
        </BandRow>
      </Band>
      <Band name="Message">
        <BandRow>
          {data.messages.map((one, at) => (
            <Typography key={at}>{one}</Typography>
          ))}
        </BandRow>
      </Band>
      <Band name="When">
        <BandRow>
          <Typography>{data.when}</Typography>
        </BandRow>
      </Band>
    </RevisionPage>
  );
}
