import type { Schemas } from "../../api/client";
import type { Action } from "../actions/ActionKind";
import type { Group } from "../conditions/condition";
import {
  END,
  ON,
  type Door,
  type Goal,
  type SequenceDocument,
  type Step,
} from "./sequenceDocument";

/** Values of each part: the first is the one that stands while another part is looked at. */
type Values<One> = { [Part in keyof Required<One>]: [One[Part], ...One[Part][]] };
type ValuesOf<One extends { kind: string }> = {
  [Kind in One["kind"]]: Values<Omit<Extract<One, { kind: Kind }>, "kind" | "id">>;
};

const named = (id: string) => ({ id, name: `Named ${id}` });
export const catalogue = {
  fields: [
    { id: "visit", key: "visit", label: "Day of the visit", type: "date", choices: [] },
    { id: "birthday", key: "birthday", label: "Birthday", type: "date", choices: [] },
    { id: "city", key: "city", label: "City", type: "text", choices: [] },
  ],
  tags: [named("t1"), named("t2"), named("t3")],
  lists: [named("l1"), named("l2")],
  sources: [named("s1")],
  messages: [named("m1"), named("m2")],
  sequences: ["q1", "q2", "q3"].map((id) => ({
    ...named(id),
    live: true,
    lanes: [named("la"), named("lb")],
  })),
  members: [named("p1"), named("p2")],
  services: [],
} as unknown as Schemas["CatalogueOut"];

const tagged = (tag: string): Group => ({ kind: "all", of: [{ kind: "tag", tag, has: true }] });
const WHEN: [Group, ...Group[]] = [
  tagged("t1"),
  tagged("t2"),
  { kind: "none", of: tagged("t1").of },
];
export const TO_B = { to: "lane" as const, lane: "lb", step: null };
const TO_STEP = { to: "lane" as const, lane: "la", step: "st2" };
const AT: [string, string] = ["09:00:00", "17:30:00"];

export const STEPS: ValuesOf<Step> = {
  send: {
    message: ["m1", "m2", "gone", null],
    at_once: [false, true],
    any_hour: [false, true],
    if_held: ["wait", "go_on"],
  },
  wait: {
    duration: [
      { amount: 2, unit: "days" },
      { amount: 3, unit: "days" },
      { amount: 2, unit: "hours" },
    ],
  },
  wait_time: { at: AT, weekdays: [[1], [1, 4], []] },
  wait_date: {
    field: ["visit", "birthday", "gone", null],
    days: [-1, 0, 2],
    at: AT,
    yearly: [false, true],
    otherwise: [ON, END, TO_B],
  },
  wait_condition: {
    when: WHEN,
    at_most: [
      { amount: 2, unit: "days" },
      { amount: 2, unit: "weeks" },
    ],
    held: [ON, TO_B, TO_STEP, END],
    otherwise: [END, ON, TO_B],
  },
  split: {
    of: [
      [{ id: "x", name: "Buyers", when: tagged("t1"), way: TO_B }],
      [{ id: "x", name: "Visitors", when: tagged("t1"), way: TO_B }],
      [{ id: "x", name: "Buyers", when: tagged("t2"), way: TO_B }],
      [{ id: "x", name: "Buyers", when: tagged("t1"), way: END }],
    ],
    otherwise: [ON, END, TO_B],
  },
  chance: {
    of: [
      [
        { id: "x", name: "A", weight: 50, way: ON },
        { id: "y", name: "B", weight: 50, way: TO_B },
      ],
      [
        { id: "x", name: "A", weight: 30, way: ON },
        { id: "y", name: "B", weight: 70, way: TO_B },
      ],
      [
        { id: "x", name: "Other", weight: 50, way: ON },
        { id: "y", name: "B", weight: 50, way: END },
      ],
    ],
  },
  act: {
    action: [
      { kind: "add_tags", tags: ["t1"] },
      { kind: "add_tags", tags: ["t2"] },
    ],
  },
  stop: {},
};

const DOOR = {
  lane: ["la", "lb"] as [string, string],
  open: [true, false] as [boolean, boolean],
  only: [null, ...WHEN] as [null, ...Group[]],
  stays: [true, false] as [boolean, boolean],
  again: [null, "once_only", "start_over", "run_alongside"] as [null, ...Door["again"][]],
};

/** What stands beside what opens the other doors: the parts of every door are looked at once. */
const BESIDE = Object.fromEntries(
  Object.entries(DOOR).map(([part, [first]]) => [part, [first]]),
) as unknown as typeof DOOR;

export const DOORS: ValuesOf<Door> = {
  route: BESIDE,
  by_hand: DOOR,
  tag: { ...BESIDE, tag: ["t1", "t2", "gone", null] },
  list: { ...BESIDE, list: ["l1", "l2", "gone", null] },
  field: { ...BESIDE, field: ["city", "visit", "gone", null], value: ["", "Hull"] },
  event: { ...BESIDE, name: ["bought", "called"] },
  click: { ...BESIDE, message: ["m1", "m2", "gone", null], link: ["", "/shop"] },
  condition: { ...BESIDE, when: WHEN },
  date: {
    ...BESIDE,
    field: ["visit", "birthday", "gone", null],
    days: [-1, 0, 2],
    at: AT,
    yearly: [false, true],
  },
  schedule: { ...BESIDE, only: WHEN, weekdays: [[1], [1, 4]], at: AT },
};

export const GOAL: Values<Omit<Goal, "id">> = {
  name: ["", "Bought"],
  event: ["bought", "", "booked"],
  when: [null, ...WHEN],
  within_days: [null, 5],
  then: [END, TO_B, TO_STEP],
  may_lead_back: [false, true],
};

export const LEAVING: Values<SequenceDocument["leaving"]> = {
  when: [null, ...WHEN],
  takes_over: ["none", "these", "all"],
  these: [[], ["q2"], ["q2", "q3"], ["q2", "gone"]],
};

export const WHOLE: Values<
  Pick<SequenceDocument, "list" | "sender" | "again" | "times" | "no_broadcasts" | "priority">
> = {
  list: ["l1", "l2", "gone", null],
  sender: [
    { name: "", address: "", reply_to: "" },
    { name: "Dome", address: "", reply_to: "" },
    { name: "", address: "dome@example.com", reply_to: "" },
    { name: "", address: "", reply_to: "ask@example.com" },
  ],
  again: [null, "once_only", "start_over", "run_alongside"],
  times: [
    null,
    {
      begins: "09:00:00",
      ends: "17:00:00",
      weekdays: [1, 2],
      holidays_of: "",
      quiet_dates: ["2026-05-06"],
      quiet_yearly: ["12-24"],
    },
  ],
  no_broadcasts: [false, true],
  priority: [0, 3, -3],
};

export const ACTIONS: ValuesOf<Action> = {
  add_tags: { tags: [["t1"], ["t1", "t2"], ["t1", "gone"]] },
  remove_tags: { tags: [["t1"], ["t1", "t2"], ["t1", "gone"]] },
  tag_by_answer: {
    question: ["what", "how"],
    table: [[{ choice: "moon", tags: ["t1"] }], [{ choice: "moon", tags: ["t2"] }]],
  },
  tag_from_answer: { question: ["what", "how"], prefix: ["", "likes "], only: [[], ["moon"]] },
  put_field: { field: ["city", "visit", "gone", null], value: ["Hull", "York"] },
  change_score: { by: [1, 5, -2] },
  record_event: { name: ["bought", "called"] },
  change_subscription: {
    direction: ["subscribe", "unsubscribe", "by_answer", null],
    every_list: [false, true],
    list: ["l1", "l2", "gone", null],
    question: ["what", "how", "free"],
    subscribe_words: [["moon"], ["moon", "please"], []],
    unsubscribe_words: [["sun"], ["sun", "never"], []],
  },
  start_sequence: { sequence: ["q1", "q2", "gone", null], lane: [null, "lb"] },
  stop_sequence: { sequence: ["q1", "q2", "gone", null], every_sequence: [false, true] },
  notify: { members: [["p1"], ["p1", "p2"], ["p1", "gone"]], owner: [false, true] },
  make_task: { title: ["Call", "Write"], days: [1, 3] },
  hand_over: {
    handover: [
      { connection: null, work: null, settings: {}, fields: [] } as unknown as Schemas["Handover"],
    ],
  },
  set_owner: {
    how: ["fixed", "by_answer", "in_turn"],
    members: [["p1"], ["p2"], ["gone"]],
    question: ["what", "how"],
    table: [[{ choice: "moon", member: "p1" }], [{ choice: "moon", member: "p2" }]],
  },
  send_now: { message: ["m1", "m2", "gone", null], list: [null, "l1", "l2", "gone"] },
};

/** Parts that stand together under one control. */
export const TOGETHER = [
  ["at_once", "any_hour"],
  ["direction", "every_list", "list"],
  ["question", "subscribe_words", "unsubscribe_words"],
  ["field", "value"],
  ["every_sequence", "sequence"],
  ["sequence", "lane"],
  ["how", "members", "question", "table"],
  ["question", "table"],
  ["event", "when"],
];

/** What is only there with something else: the parts that it is looked at with. */
export const ONLY_WITH: Record<string, object> = {
  "goal.when": { event: "" },
  "goal.may_lead_back": { then: TO_B },
  "leaving.these": { takes_over: "these" },
  "by_hand.stays": { only: tagged("t1") },
  "change_subscription.every_list": { direction: "unsubscribe" },
  "change_subscription.question": { direction: "by_answer" },
  "change_subscription.subscribe_words": { direction: "by_answer" },
  "change_subscription.unsubscribe_words": { direction: "by_answer" },
  "set_owner.question": { how: "by_answer" },
  "set_owner.table": { how: "by_answer" },
};
