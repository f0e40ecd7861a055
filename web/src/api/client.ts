import createClient from "openapi-fetch";
import { signedOut } from "./signedOut";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** One thing that is wrong with what was sent: where, what, and what to do. */
export interface Wrong {
  code: string;
  place: string;
  sentence: string;
  fix: string;
}

/** An error of the API, as RFC 9457 has it. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly wrongs: Wrong[] = [],
  ) {
    super(title);
  }

  /** What is wrong at one place, if anything is. */
  at(place: string): string | undefined {
    const wrong = this.wrongs.find((one) => one.place === place);
    return wrong && [wrong.sentence, wrong.fix].filter(Boolean).join(" ");
  }
}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

export const api = createClient<paths>({ baseUrl: window.location.origin });
api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
});

interface Answer<Data> {
  data?: Data;
  error?: unknown;
  response: Response;
}

/** The data of an answer; an answer that is an error is thrown as an ApiError. */
export async function take<Data>(asked: Promise<Answer<Data>>): Promise<Data> {
  let answer: Answer<Data>;
  try {
    answer = await asked;
  } catch {
    throw new ApiError(0, "The server does not answer. Nothing is lost; try again in a moment.");
  }
  if (answer.response.ok && answer.data !== undefined) return answer.data;
  // A wrong password is no session that has ended.
  const signingIn = answer.response.url.endsWith("/api/session");
  if (answer.response.status === 401 && !signingIn) signedOut.set(true);
  const problem = answer.error as { title?: string; errors?: Wrong[] } | undefined;
  throw new ApiError(
    answer.response.status,
    problem?.title ?? `The server answered ${answer.response.status}. Try again in a moment.`,
    problem?.errors ?? [],
  );
}

/** A body that is sent as it stands: a file, or a part of one. */
export function asIs(content: Blob | string, type: string) {
  return {
    body: content as never,
    bodySerializer: (body: unknown) => body as Blob,
    headers: { "Content-Type": type },
  };
}
