/**
 * Whether a query is being asked for the first time. A room that waits for all it shows first does not
 * move under whoever clicks in it; what fails at once is not waited for.
 */
export function isComing(query: { isLoading: boolean; failureCount: number }): boolean {
  return query.isLoading && query.failureCount === 0;
}
