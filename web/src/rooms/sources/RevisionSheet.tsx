import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useLocation, useNavigate, useParams } from "react-router";
import { api, take } from "../../api/client";
import { useCatalogue, useMayChange, useReload, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { useMoments } from "../../parts/moment";
import { Problem } from "../../parts/Problem";
import { ReplacesDraft } from "../../parts/ReplacesDraft";
import { Sheet } from "../../parts/Sheet";
import { StateWord } from "../../parts/StateWord";
import { Bands } from "./Bands";
import { useSource } from "./useSource";

const nothing = () => undefined;

/** A revision of a route, to read: what the because-links lead to. */
export function RevisionSheet() {
  const workspace = useSlug();
  const { source: id = "", number = "1" } = useParams();
  const { hash } = useLocation();
  const moments = useMoments();
  const mayChange = useMayChange();
  const reload = useReload();
  const go = useNavigate();
  const [failed, setFailed] = useState<unknown>();
  const [asking, setAsking] = useState(false);
  const { data: source } = useSource(id);
  const { data: catalogue } = useCatalogue();
  const { data: revision, error } = useQuery({
    queryKey: ["revision", workspace, id, number],
    queryFn: () =>
      take(
        api.GET("/api/workspaces/{workspace}/sources/{source}/revisions/{number}", {
          params: { path: { workspace, source: id, number: Number(number) } },
        }),
      ),
  });
  const ready = Boolean(revision && source && catalogue);
  useEffect(() => {
    if (!ready || !hash) return;
    const place = document.getElementById(hash.slice(1));
    place?.scrollIntoView({ block: "center" });
    place?.style.setProperty("outline", "2px solid var(--mui-palette-info-main)");
  }, [ready, hash]);
  const goBack = async (based_on: number) => {
    try {
      setAsking(false);
      setFailed(undefined);
      await take(
        api.POST("/api/workspaces/{workspace}/sources/{source}/revisions/{number}/go-back", {
          params: { path: { workspace, source: id, number: Number(number) } },
          body: { based_on },
        }),
      );
      await reload("source");
      await go(`/w/${workspace}/sources/${id}`);
    } catch (caught) {
      setFailed(caught);
    }
  };
  if (!revision || !source || !catalogue) return <Loading error={error} />;
  return (
    <Sheet
      title={`${source.name}, revision ${revision.number}`}
      name={`${source.name}, revision ${revision.number}`}
      back={{ to: `/w/${workspace}/sources/${id}`, label: source.name }}
      state={
        <StateWord
          state={revision.live ? "live" : "draft"}
          word={revision.live ? "live" : "past"}
        />
      }
      actions={
        mayChange &&
        !revision.live && (
          <Button
            variant="outlined"
            onClick={() => (source.differs ? setAsking(true) : void goBack(source.edits))}
          >
            Make it the draft again
          </Button>
        )
      }
    >
      <Typography variant="body2" color="textSecondary" sx={{ pt: 1.5 }}>
        Turned on {moments.moment(revision.live_at)}
        {revision.author && ` by ${revision.author}`}. A revision never changes; this is how it was.
      </Typography>
      {revision.changes.map((one) => (
        <Typography key={one} variant="body2">
          {one}
        </Typography>
      ))}
      <Problem error={failed} />
      <ReplacesDraft
        open={asking}
        what={`Revision ${revision.number}`}
        changes={source.changes}
        onClose={() => setAsking(false)}
        onReplace={() => void goBack(source.edits)}
      />
      <Bands
        source={source}
        document={revision.document}
        edit={nothing}
        catalogue={catalogue}
        sample={undefined}
        findings={[]}
        readOnly
        answers={[]}
        seen={[]}
        edits={0}
        onType={nothing}
      />
    </Sheet>
  );
}
