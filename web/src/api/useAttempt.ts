import { useMutation } from "@tanstack/react-query";

/**
 * Does what changes something. What went wrong is in `failed` until the next attempt or `dismiss`,
 * so that it stands where it was asked for; `attempt` tells whether it was done.
 */
export function useAttempt() {
  const { mutateAsync, error, isPending, reset } = useMutation({
    mutationFn: (act: () => Promise<unknown>) => act(),
    // Shown by whoever asked.
    onError: () => undefined,
  });
  const attempt = (act: () => Promise<unknown>): Promise<boolean> =>
    mutateAsync(act).then(
      () => true,
      () => false,
    );
  return { attempt, failed: error, busy: isPending, dismiss: reset };
}
