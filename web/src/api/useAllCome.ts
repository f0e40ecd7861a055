import { useState } from "react";

interface Asked {
  isLoading: boolean;
  failureCount: number;
}

/**
 * Whether all that a room shows first has come, so that nothing moves under whoever clicks in it. What
 * fails at once is not waited for; and once it is so for `of`, it stays so: nothing that is asked for
 * later, or again, takes the room away from whoever works in it.
 */
export function useAllCome(of: string, asked: Asked[]): boolean {
  const [come, setCome] = useState<string>();
  if (come === of) return true;
  const all = !asked.some((one) => one.isLoading && one.failureCount === 0);
  if (all) setCome(of);
  return all;
}
