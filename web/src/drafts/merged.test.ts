import { expect, test } from "vitest";
import { CONFLICT, merged } from "./merged";

interface Doc {
  [name: string]: number | number[] | Doc;
}

/** All documents of two values each, one of them inside, and every pair of changes of them. */
const VALUES = [1, 2, 3];

test("each value is from the one who changed it, and both changing it is a conflict", () => {
  let conflicts = 0;
  for (const mine of VALUES)
    for (const theirs of VALUES)
      for (const mineInside of VALUES)
        for (const theirsInside of VALUES) {
          const before: Doc = { a: 1, in: { b: 1 } };
          const found = merged(
            before,
            { a: mine, in: { b: mineInside } },
            { a: theirs, in: { b: theirsInside } },
          );
          const one = (own: number, other: number) =>
            own === other || other === 1 ? own : own === 1 ? other : CONFLICT;
          const [a, b] = [one(mine, theirs), one(mineInside, theirsInside)];
          const expected = a === CONFLICT || b === CONFLICT ? CONFLICT : { a, in: { b } };
          if (expected === CONFLICT) conflicts += 1;
          expect(found).toEqual(expected);
        }
  expect(conflicts).toBe(81 - 7 * 7);
});

test("lists are one value, and what is new or gone counts as a change", () => {
  expect(merged({ l: [1] }, { l: [1, 2] }, { l: [1, 3] })).toBe(CONFLICT);
  expect(merged({ l: [1] }, { l: [1, 2] }, { l: [1] })).toEqual({ l: [1, 2] });
  expect(merged({ a: 1 }, { a: 1, b: 2 }, { a: 5 })).toEqual({ a: 5, b: 2 });
  expect(merged({ a: 1, b: 2 }, { a: 1 }, { a: 3, b: 2 })).toEqual({ a: 3 });
});
