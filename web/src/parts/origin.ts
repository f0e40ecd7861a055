type Cause = Record<string, unknown> | null;

interface Caused {
  because: Cause;
}

/** What tells causes of one origin apart: the line of a sheet, and its sentence. */
const OF_A_LINE = new Set(["kind", "sentence", "line_id", "band"]);

/** Where a cause lies (a submission by a revision of a source), without the line that did it. */
export function origin(because: Cause): Cause {
  return (
    because &&
    Object.fromEntries(
      Object.entries(because)
        .filter(([name, value]) => value !== null && !OF_A_LINE.has(name))
        .sort(([one], [other]) => one.localeCompare(other)),
    )
  );
}

/** Whether two causes read the same. */
export function readsSame(one: Cause, other: Cause): boolean {
  return one?.["sentence"] === other?.["sentence"] && isOfOne(one, other);
}

/**
 * Things that stand next to each other and are of one origin, together: it is then said once.
 * `alike`: what else has to be the same.
 */
export function byOrigin<Thing extends Caused>(
  things: Thing[],
  alike: (one: Thing, other: Thing) => boolean = () => true,
): [Thing, ...Thing[]][] {
  const groups: [Thing, ...Thing[]][] = [];
  for (const thing of things) {
    const group = groups.at(-1);
    if (group && isOfOne(group[0].because, thing.because) && alike(group[0], thing)) {
      group.push(thing);
    } else {
      groups.push([thing]);
    }
  }
  return groups;
}

function isOfOne(one: Cause, other: Cause): boolean {
  return JSON.stringify(origin(one)) === JSON.stringify(origin(other));
}
