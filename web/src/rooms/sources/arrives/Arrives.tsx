import { ArrivesFile } from "../file/ArrivesFile";
import { ArrivesForm } from "../form/ArrivesForm";
import { ArrivesHook } from "./ArrivesHook";
import { ArrivesPosted } from "./ArrivesPosted";
import { ArrivesSheet } from "./ArrivesSheet";
import { useRoute } from "../RouteContext";

/** How submissions come in here, by the kind of the source. */
export function Arrives() {
  const { source } = useRoute();
  switch (source.kind) {
    case "form":
      return <ArrivesForm />;
    case "posted":
      return <ArrivesPosted />;
    case "webhook":
      return <ArrivesHook />;
    case "sheet":
      return <ArrivesSheet />;
    case "file":
      return <ArrivesFile />;
  }
}
