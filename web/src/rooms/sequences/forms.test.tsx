import { act, cleanup } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, test } from "vitest";
import { changedParts, shownText, operateAll } from "../../testing/controls";
import { refusal, takes } from "../../testing/server";
import { show } from "../../testing/show";
import { ActionForm } from "../actions/ActionForm";
import type { Action } from "../actions/ActionKind";
import { askedBy } from "../sources/asked";
import type { Question, RouteDocument } from "../sources/routeDocument";
import { DoorPanel } from "./DoorPanel";
import {
  ACTIONS,
  catalogue,
  DOORS,
  GOAL,
  LEAVING,
  ONLY_WITH,
  STEPS,
  TOGETHER,
  WHOLE,
} from "./formValues";
import { GoalPanel } from "./GoalPanel";
import { END, type Door, type Goal, type SequenceDocument, type Step } from "./sequenceDocument";
import { AgainPanel, LeavingPanel, ListPanel, TimesPanel } from "./SettingsPanels";
import { StepForm } from "./StepForm";

type Fitting = { part: string; documents: Record<string, unknown>[] };

function fitting(kind: string, values: Record<string, unknown[]>): Fitting[] {
  const base = Object.fromEntries(Object.entries(values).map(([part, [first]]) => [part, first]));
  return Object.entries(values).map(([part, all]) => ({
    part,
    documents: all.map((one) => ({ ...base, ...ONLY_WITH[`${kind}.${part}`], [part]: one })),
  }));
}

const sequence = (change: Partial<SequenceDocument> = {}): SequenceDocument => ({
  list: "l1",
  sender: { name: "", address: "", reply_to: "" },
  doors: [],
  again: null,
  lanes: [
    {
      id: "la",
      name: "A",
      steps: [
        { kind: "stop", id: "st1" },
        { kind: "stop", id: "st2" },
      ],
      then: END,
    },
    { id: "lb", name: "B", steps: [], then: END },
  ],
  goals: [],
  leaving: { when: null, takes_over: "none", these: [] },
  times: null,
  no_broadcasts: false,
  priority: 0,
  ...change,
});

const questions = ["what", "how"].map((name) => ({
  type: "choice",
  id: name,
  name,
  label: `Asks ${name}`,
  choices: [
    { key: "moon", label: "The moon" },
    { key: "sun", label: "The sun" },
  ],
})) as unknown as Question[];

type Shows = (document: never, onChange: (next: object) => void) => ReactNode;

const context = (document: SequenceDocument) => ({
  document,
  catalogue,
  words: { st1: "Ends here", st2: "Ends there" },
  readOnly: false,
  own: "own",
  onSelect: () => undefined,
});

const stepForm: Shows = (step: Step, onChange) => (
  <StepForm
    {...context(sequence())}
    edit={() => undefined}
    step={{ ...step, id: "st1" }}
    selection={{ kind: "step", id: "st1" }}
    count={undefined}
    onPeople={undefined}
    onChange={({ ...next }) => onChange({ ...next, id: undefined })}
  />
);

const doorForm: Shows = (door: Door, onChange) => {
  const whole = sequence({ doors: [{ ...door, id: "d1" }] });
  return (
    <DoorPanel
      {...context(whole)}
      door={{ ...door, id: "d1" }}
      edit={(change) => onChange({ ...change(whole).doors[0], id: undefined })}
    />
  );
};

const goalForm: Shows = (goal: Goal, onChange) => {
  const whole = sequence({ goals: [{ ...goal, id: "g1" }] });
  return (
    <GoalPanel
      {...context(whole)}
      goal={{ ...goal, id: "g1" }}
      edit={(change) => onChange({ ...change(whole).goals[0], id: undefined })}
    />
  );
};

const leavingForm: Shows = (leaving: SequenceDocument["leaving"], onChange) => {
  const whole = sequence({ leaving });
  return <LeavingPanel {...context(whole)} edit={(change) => onChange(change(whole).leaving)} />;
};

const wholeForm: Shows = (part: Partial<SequenceDocument>, onChange) => {
  const whole = sequence(part);
  const keys = Object.keys(part) as (keyof SequenceDocument)[];
  const edit = (change: (before: SequenceDocument) => SequenceDocument) => {
    const next = change(whole);
    onChange(Object.fromEntries(keys.map((key) => [key, next[key]])));
  };
  return (
    <>
      <ListPanel {...context(whole)} edit={edit} />
      <TimesPanel {...context(whole)} edit={edit} />
      <AgainPanel {...context(whole)} edit={edit} />
    </>
  );
};

const actionForm: Shows = (action: Action, onChange) => (
  <ActionForm
    action={action}
    catalogue={catalogue}
    questions={questions}
    asked={askedBy({ form: { questions }, read_as: [] } as unknown as RouteDocument, [])}
    suggests=""
    readOnly={false}
    onChange={onChange}
  />
);

const FORMS: [string, Record<string, object>, Shows][] = [
  ["step", STEPS, stepForm],
  ["door", DOORS, doorForm],
  ["action", ACTIONS, actionForm],
  ["settings", { goal: GOAL }, goalForm],
  ["settings", { leaving: LEAVING }, leavingForm],
  ["settings", { whole: WHOLE }, wholeForm],
];

const CASES = FORMS.flatMap(([group, kinds, form]) =>
  Object.entries(kinds).flatMap(([kind, values]) =>
    fitting(kind, values as Record<string, unknown[]>)
      .filter((one) => one.documents.length > 1)
      .map(
        ({ part, documents }) =>
          [
            `${kind}: ${part}`,
            group === "settings" ? documents : documents.map((one) => ({ ...one, kind })),
            form,
            part,
          ] as const,
      ),
  ),
);

async function open(form: Shows, document: object) {
  // What is made in passing by a press on “make …” is no part of the form.
  takes("post", "/tags", () => refusal(422, "not now"));
  const made: object[] = [];
  show(form(document as never, (next) => made.push(next)));
  // Boxes for dates are loaded when one is shown.
  await act(() => import("../../parts/dates/pickers"));
  return made;
}

let changes = 0;

test.each(CASES)(
  "all values are shown, and a control changes what it is about alone: %s",
  async (_name, documents, form) => {
    const looks: string[] = [];
    for (const one of documents) {
      const made = await open(form, one);
      const look = shownText();
      const same = looks.indexOf(look);
      expect(same, `${JSON.stringify(one)} looks as ${JSON.stringify(documents[same])}`).toBe(-1);
      looks.push(look);
      operateAll();
      changes += made.length;
      for (const next of made) {
        const parts = changedParts({ ...one, id: undefined }, next);
        const together =
          parts.length <= 1 || TOGETHER.some((all) => parts.every((each) => all.includes(each)));
        expect(together, `${parts.join()} of ${JSON.stringify(next)}`).toBe(true);
        kept(one, next);
      }
      cleanup();
    }
  },
  60_000,
);

/** Of several that are chosen, all that stood there are still there when one is added. */
function kept(before: object, after: object) {
  for (const [key, was] of Object.entries(before)) {
    const is = (after as Record<string, unknown>)[key];
    if (!Array.isArray(was) || !Array.isArray(is) || is.length <= was.length) continue;
    expect(is).toEqual(expect.arrayContaining(was));
  }
}

test("the controls were really used", () => {
  expect(changes).toBeGreaterThan(800);
});
