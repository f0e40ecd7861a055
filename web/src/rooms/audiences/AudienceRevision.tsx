import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { audienceQuery, audienceRevisionQuery } from "../../api/audiences";
import { api, take } from "../../api/client";
import { useReload, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { RevisionPage } from "../../parts/RevisionPage";

/** A revision of an audience, to read. */
export function AudienceRevision() {
  const workspace = useSlug();
  const { audience: id = "", number = "1" } = useParams();
  const reload = useReload();
  const { data: audience } = useQuery(audienceQuery(workspace, id));
  const { data, error } = useQuery(audienceRevisionQuery(workspace, id, Number(number)));
  if (!audience || !data) return <Loading error={error} />;
  const path = { workspace, audience: id, number: Number(number) };
  const goBack = async () => {
    await take(
      api.POST("/api/workspaces/{workspace}/audiences/{audience}/revisions/{number}/go-back", {
        params: { path },
        body: { based_on: audience.edits },
      }),
    );
    await reload("audience");
  };
  return (
    <RevisionPage
      name={audience.name}
      back={`/w/${workspace}/audiences/${id}`}
      revision={data}
      draft={audience}
      onGoBack={goBack}
    >
      <Band name="Who">
        <BandRow>
          <Typography>{data.sentence || "Everybody"}</Typography>
        </BandRow>
      </Band>
    </RevisionPage>
  );
}
