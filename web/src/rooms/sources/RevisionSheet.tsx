import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useLocation, useParams } from "react-router";
import { revisionQuery } from "../../api/sources";
import { api, take } from "../../api/client";
import { useCatalogue, useReload, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { RevisionPage } from "../../parts/RevisionPage";
import { Bands } from "./Bands";
import { useSource } from "./useSource";

const nothing = () => undefined;

/** A revision of a route: what the because-links lead to. */
export function RevisionSheet() {
  const workspace = useSlug();
  const { source: id = "", number = "1" } = useParams();
  const { hash } = useLocation();
  const reload = useReload();
  const { data: source } = useSource(id);
  const { data: catalogue } = useCatalogue();
  const path = { workspace, source: id, number: Number(number) };
  const { data: revision, error } = useQuery(revisionQuery(workspace, id, Number(number)));
  const ready = Boolean(revision && source && catalogue);
  useEffect(() => {
    if (!ready || !hash) return;
    const place = document.getElementById(hash.slice(1));
    place?.scrollIntoView({ block: "center" });
    place?.style.setProperty("outline", "2px solid var(--mui-palette-info-main)");
  }, [ready, hash]);
  if (!revision || !source || !catalogue) return <Loading error={error} />;
  const goBack = async () => {
    await take(
      api.POST("/api/workspaces/{workspace}/sources/{source}/revisions/{number}/go-back", {
        params: { path },
        body: { based_on: source.edits },
      }),
    );
    await reload("source");
  };
  return (
    <RevisionPage
      name={source.name}
      back={`/w/${workspace}/sources/${id}`}
      revision={revision}
      draft={source}
      onGoBack={goBack}
    >
      <Bands
        source={source}
        document={revision.document}
        edit={nothing}
        catalogue={catalogue}
        sample={undefined}
        findings={[]}
        words={revision.words}
        readOnly
        answers={[]}
        seen={[]}
        edits={0}
        onType={nothing}
      />
    </RevisionPage>
  );
}
