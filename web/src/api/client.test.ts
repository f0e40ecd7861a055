import { describe, expect, it } from "vitest";
import { ApiError, take } from "./client";

const answer = (status: number, data?: unknown, error?: unknown) =>
  Promise.resolve({ data, error, response: new Response(null, { status }) });

async function failure(asked: Promise<unknown>): Promise<ApiError> {
  try {
    await asked;
  } catch (error) {
    if (error instanceof ApiError) return error;
  }
  throw new Error("It did not fail as an error of the API.");
}

describe("an answer of the API", () => {
  it("is its data", async () => {
    expect(await take(answer(200, { count: 0 }))).toEqual({ count: 0 });
    expect(await take(answer(200, false))).toBe(false);
  });

  it("is thrown with what is wrong, where, and what to do", async () => {
    const wrong = {
      code: "name_taken",
      place: "name",
      sentence: "There is a tag “guide” already.",
      fix: "Choose another name.",
    };
    const error = await failure(
      take(answer(422, undefined, { title: "Not kept.", errors: [wrong] })),
    );
    expect([error.status, error.message]).toEqual([422, "Not kept."]);
    expect(error.at("name")).toBe("There is a tag “guide” already. Choose another name.");
    expect(error.at("elsewhere")).toBeUndefined();
  });

  it("says something kind where the server said nothing that can be read", async () => {
    const error = await failure(take(answer(502, undefined, "<html>")));
    expect(error.message).toBe("The server answered 502. Try again in a moment.");
    expect(error.wrongs).toEqual([]);
  });

  it("says so where the server does not answer at all", async () => {
    const error = await failure(take(Promise.reject(new TypeError("Failed to fetch"))));
    expect(error.status).toBe(0);
    expect(error.message).toContain("Nothing is lost");
  });
});
