import { useAttempt } from "../api/useAttempt";

/** Does things with a sheet as it is saved; nothing where it could not be saved. Whether it was
 * done; why not is in `failed`, until `dismiss`. */
export function useSaved(draft: { flush: () => Promise<number | undefined> }) {
  const { attempt, failed, dismiss } = useAttempt();
  const saved = async (asked: (based_on: number) => Promise<void>): Promise<boolean> => {
    let isSaved = true;
    const isDone = await attempt(async () => {
      const based_on = await draft.flush();
      isSaved = based_on !== undefined;
      if (based_on !== undefined) await asked(based_on);
    });
    return isDone && isSaved;
  };
  return { saved, failed, dismiss };
}
