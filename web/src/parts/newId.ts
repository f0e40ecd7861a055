/** An id for a new line, unlike the others of its document. */
export function newId(prefix: string): string {
  return prefix + (crypto.getRandomValues(new Uint32Array(1))[0] ?? 0).toString(36);
}
