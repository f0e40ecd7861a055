import { useState } from "react";

/** Does things with a sheet as it is saved; nothing where it could not be saved. Whether it was
 * done; why not is in `failed`, until `dismiss`. */
export function useSaved(draft: { flush: () => Promise<number | undefined> }) {
  const [failed, setFailed] = useState<unknown>();
  const saved = async (asked: (based_on: number) => Promise<void>): Promise<boolean> => {
    try {
      setFailed(undefined);
      const based_on = await draft.flush();
      if (based_on === undefined) return false;
      await asked(based_on);
      return true;
    } catch (error) {
      setFailed(error);
      return false;
    }
  };
  return { saved, failed, dismiss: () => setFailed(undefined) };
}
