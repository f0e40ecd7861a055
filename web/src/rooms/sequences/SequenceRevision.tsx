import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { sequenceRevisionQuery } from "../../api/sequences";
import { api, take } from "../../api/client";
import { useCatalogue, useReload, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { RevisionPage } from "../../parts/RevisionPage";
import { Lanes } from "./Lanes";
import { useSequence } from "./useSequence";

const nothing = () => undefined;

/** A revision of a sequence. */
export function SequenceRevision() {
  const workspace = useSlug();
  const { sequence: id = "", number = "1" } = useParams();
  const reload = useReload();
  const { data: sequence } = useSequence(id);
  const { data: catalogue } = useCatalogue();
  const path = { workspace, sequence: id, number: Number(number) };
  const { data: revision, error } = useQuery(sequenceRevisionQuery(workspace, id, Number(number)));
  if (!revision || !sequence || !catalogue) return <Loading error={error} />;
  const goBack = async () => {
    await take(
      api.POST("/api/workspaces/{workspace}/sequences/{sequence}/revisions/{number}/go-back", {
        params: { path },
        body: { based_on: sequence.edits },
      }),
    );
    await reload("sequence");
  };
  return (
    <RevisionPage
      name={sequence.name}
      back={`/w/${workspace}/sequences/${id}`}
      revision={revision}
      draft={sequence}
      onGoBack={goBack}
    >
      <Typography variant="body2" sx={{ py: 1.25 }}>
        Emails of{" "}
        {catalogue.lists.find((one) => one.id === revision.document.list)?.name ?? "no list"} ·
        leaves {revision.words["leaving"]} · sends {revision.words["times"]}
        {revision.document.goals.map((one) => ` · goal ${revision.words[one.id] ?? one.name}`)}
      </Typography>
      <Lanes
        sequence={id}
        document={revision.document}
        words={revision.words}
        headings={revision.headings}
        counts={[]}
        findings={[]}
        routes={[]}
        readOnly
        selection={undefined}
        onSelect={nothing}
        edit={nothing}
      />
    </RevisionPage>
  );
}
