import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { messageQuery } from "../../api/messages";
import { useCatalogue, useSlug } from "../../api/workspace";
import { Loading } from "../../parts/Loading";
import { MessageEditor } from "./MessageEditor";
import { useMailSettings } from "./useMailSettings";
import { usePictures } from "./usePictures";

/** A message: what it says, and how a person would get it. */
export function MessageSheet() {
  const workspace = useSlug();
  const { message = "" } = useParams();
  const { data: catalogue } = useCatalogue();
  const { data: settings } = useMailSettings();
  const { pictures, loaded } = usePictures();
  const { data, error } = useQuery({
    ...messageQuery(workspace, message),
    refetchOnWindowFocus: false,
  });
  if (!data || !catalogue || !settings || !loaded) return <Loading error={error} />;
  return (
    <MessageEditor
      key={data.id}
      message={data}
      catalogue={catalogue}
      settings={settings}
      pictures={pictures}
    />
  );
}
