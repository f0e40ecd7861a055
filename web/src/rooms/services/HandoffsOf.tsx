import { follows } from "../../api/stream";
import { counted } from "../../parts/formats";
import { useQuery } from "@tanstack/react-query";
import { handoffsOfQuery } from "../../api/services";
import { useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { HandoffRows } from "./HandoffRows";

/** Where a person, or what came of a submission, was handed to; nothing where it was nowhere. */
export function HandoffsOf({ person, submission }: { person?: string; submission?: string }) {
  const workspace = useSlug();
  const { data } = useQuery({
    ...handoffsOfQuery(workspace, person, submission),
    ...follows(["services"], 2_000),
  });
  if (!data?.length) return null;
  return (
    <Band name="Services" note={counted(data.length, "handoff", "handoffs")}>
      <BandRow>
        <HandoffRows rows={data} names />
      </BandRow>
    </Band>
  );
}
