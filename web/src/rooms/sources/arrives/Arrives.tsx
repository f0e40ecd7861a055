import { ArrivesFile } from "../file/ArrivesFile";
import { ArrivesForm } from "../form/ArrivesForm";
import { ArrivesHook } from "./ArrivesHook";
import { ArrivesPosted } from "./ArrivesPosted";
import { ArrivesSheet } from "./ArrivesSheet";
import type { BandsProps } from "../BandsProps";

/** How submissions come in here, by the kind of the source. */
export function Arrives(props: BandsProps) {
  switch (props.source.kind) {
    case "form":
      return <ArrivesForm {...props} />;
    case "posted":
      return <ArrivesPosted {...props} />;
    case "webhook":
      return <ArrivesHook {...props} />;
    case "sheet":
      return <ArrivesSheet {...props} />;
    case "file":
      return <ArrivesFile {...props} />;
  }
}
