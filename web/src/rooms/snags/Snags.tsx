import { useState } from "react";
import { useReload } from "../../api/workspace";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";
import { SnagBand } from "./SnagBand";
import { useOpenSnags } from "./useSnags";

/** What went wrong, by cause, each with its fix. */
export function Snags() {
  const { data: snags, error } = useOpenSnags();
  const [failed, setFailed] = useState<unknown>();
  const reload = useReload();
  if (!snags) return <Loading error={error} />;
  return (
    <Sheet title="Snags" name="Snags">
      <Problem error={failed} />
      {snags.length === 0 ? (
        <Empty says="No snags. A submission that cannot be routed, or an email that cannot be sent, waits here with the reason and the fix." />
      ) : (
        snags.map((snag) => (
          <SnagBand
            key={snag.id}
            snag={snag}
            onFailed={setFailed}
            onDone={() => void reload("snags", "desk")}
          />
        ))
      )}
    </Sheet>
  );
}
