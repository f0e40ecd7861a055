/** A script that could not be loaded, though it was tried again. */
export class NotLoaded extends Error {}

const RELOADED = "reloaded for a script";
const PAUSE = 1_000;

/**
 * A part of the program whose script is loaded when it is first used. A script that does not come is asked
 * for again; then the page is loaded anew, once: after an upgrade it has other scripts. Raises `NotLoaded`.
 */
export async function loaded<Part>(load: () => Promise<Part>, reload: () => void): Promise<Part> {
  for (const last of [false, true]) {
    try {
      const part = await load();
      sessionStorage.removeItem(RELOADED);
      return part;
    } catch {
      if (!last) await new Promise((done) => setTimeout(done, PAUSE));
    }
  }
  if (sessionStorage.getItem(RELOADED) === null) {
    sessionStorage.setItem(RELOADED, "yes");
    reload();
    // Whoever waits goes with the page.
    return new Promise(() => undefined);
  }
  sessionStorage.removeItem(RELOADED);
  throw new NotLoaded("The server did not give the script of this room.");
}
