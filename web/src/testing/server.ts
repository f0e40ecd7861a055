import { http, HttpResponse, type JsonBodyType } from "msw";
import { setupServer } from "msw/node";

/** The server that components of a test talk to: it knows what the test tells it. */
export const server = setupServer();
// A call that no test has thought of is a mistake of the test or of the screen.
server.listen({ onUnhandledRequest: "error" });

const at = (path: string) => `${window.location.origin}/api/workspaces/moor${path}`;

/** What a GET answers, from now on. */
export function gives(path: string, answer: JsonBodyType) {
  server.use(http.get(at(path), () => HttpResponse.json(answer)));
}

/** What was sent to a place, each with what is answered for it. */
export function takes(
  method: "post" | "put" | "delete",
  path: string,
  answer: (body: never, call: number) => Response | Promise<Response>,
) {
  const bodies: unknown[] = [];
  server.use(
    http[method](at(path), async ({ request }) => {
      const body: unknown = await request.json().catch(() => undefined);
      bodies.push(body);
      return answer(body as never, bodies.length);
    }),
  );
  return bodies;
}

/** A refusal as the server words it (RFC 9457). */
export const refusal = (status: number, title: string, errors: JsonBodyType = []) =>
  HttpResponse.json({ type: "about:blank", title, status, errors }, { status });

export const ok = (answer: JsonBodyType) => HttpResponse.json(answer);
