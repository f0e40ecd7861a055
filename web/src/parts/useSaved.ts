import { useState } from "react";

/** Does things with a sheet as it is saved; nothing where it could not be saved. */
export function useSaved(draft: { flush: () => Promise<number | undefined> }) {
  const [failed, setFailed] = useState<unknown>();
  const saved = async (asked: (based_on: number) => Promise<void>) => {
    try {
      setFailed(undefined);
      const based_on = await draft.flush();
      if (based_on !== undefined) await asked(based_on);
    } catch (error) {
      setFailed(error);
    }
  };
  return { saved, failed };
}
