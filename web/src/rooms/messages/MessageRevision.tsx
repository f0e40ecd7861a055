import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { useParams } from "react-router";
import { messageQuery, messageRevisionQuery } from "../../api/messages";
import { api, take } from "../../api/client";
import { useCatalogue, useReload, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { RevisionPage } from "../../parts/RevisionPage";
import { Letter } from "./letter/LetterContext";
import { LetterSheet } from "./letter/LetterSheet";
import { MessageHead } from "./MessageHead";
import { useMailSettings } from "./useMailSettings";
import { usePictures } from "./usePictures";

const nothing = () => undefined;

/** A revision of a message, to read. */
export function MessageRevision() {
  const workspace = useSlug();
  const { message: id = "", number = "1" } = useParams();
  const reload = useReload();
  const { data: catalogue } = useCatalogue();
  const { data: settings } = useMailSettings();
  const { pictures, loaded } = usePictures();
  const { data: message } = useQuery(messageQuery(workspace, id));
  const path = { workspace, message: id, number: Number(number) };
  const { data: revision, error } = useQuery(messageRevisionQuery(workspace, id, Number(number)));
  const context = useMemo(
    () =>
      catalogue &&
      settings && {
        catalogue,
        fields: catalogue.fields,
        pictures,
        style: settings.style,
        words: {},
        readOnly: true,
        open: undefined,
        setOpen: nothing,
      },
    [catalogue, settings, pictures],
  );
  if (!revision || !message || !context || !loaded) return <Loading error={error} />;
  const goBack = async () => {
    await take(
      api.POST("/api/workspaces/{workspace}/messages/{message}/revisions/{number}/go-back", {
        params: { path },
        body: { based_on: message.edits },
      }),
    );
    await reload("message");
  };
  return (
    <Letter value={context}>
      <RevisionPage
        name={message.name}
        back={`/w/${workspace}/messages/${id}`}
        revision={revision}
        draft={message}
        onGoBack={goBack}
      >
        <MessageHead document={revision.document} onChange={nothing} />
        <LetterSheet blocks={revision.document.blocks} onChange={nothing} />
      </RevisionPage>
    </Letter>
  );
}
