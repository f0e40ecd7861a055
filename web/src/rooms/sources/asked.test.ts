import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { askedBy, typical } from "./asked";
import { emptyQuestion, type Question, type RouteDocument } from "./routeDocument";

const look: Question = {
  ...emptyQuestion("choice", false),
  name: "look",
  label: "What do you look at?",
  choices: [
    { key: "moon", label: "The Moon", synonyms: [] },
    { key: "planets", label: "Planets", synonyms: [] },
  ],
};
const place: Question = { ...emptyQuestion("address", false), name: "place", label: "Where?" };
const campaign: Question = {
  ...emptyQuestion("hidden", false),
  name: "campaign",
  parameter: "utm_campaign",
};

function sheet(...questions: Question[]): RouteDocument {
  return {
    form: {
      title: "",
      intro: "",
      button: "",
      language: "",
      questions,
      picture_says: "",
      words: {},
      pop_up: { opens: "seconds", after: 8, button: "", not_again: 30 },
      shared_screen: false,
    },
    read_as: [],
    consent: [],
    then: [],
    operation: "add_or_update",
    old_address: "",
    visitor_sees: { kind: "text", heading: "", text: "", address: "", passing: [] },
    own_form: { errors_to: "", sites: [] },
  };
}

const came = (name: string, change: Partial<Schemas["SeenQuestion"]> = {}) => ({
  name,
  share: 0.5,
  distinct: 1,
  values: ["moon"],
  field_type: "text" as const,
  ...change,
});

describe("what a line of the map can read", () => {
  it("is each box of each question, by its label", () => {
    const asked = askedBy(sheet(look, place), []).filter((one) => one.group === "Asked");
    expect(asked.map((one) => one.name)).toEqual([
      "look",
      "place.street",
      "place.city",
      "place.region",
      "place.postal_code",
      "place.country",
    ]);
    expect(asked[2]?.label).toBe("Where?: city");
    expect(asked.map((one) => one.type)).toEqual([
      "choice",
      "text",
      "text",
      "text",
      "text",
      "country",
    ]);
  });

  it("adds what came in and nobody asked, once", () => {
    const asked = askedBy(sheet(look), [came("look"), came("shoe_size", { field_type: "number" })]);
    const other = asked.filter((one) => one.group === "Received");
    expect(other.map((one) => [one.name, one.type])).toEqual([["shoe_size", "number"]]);
  });

  it("adds what is known besides, and the parameters that the form takes", () => {
    const names = askedBy(sheet(campaign), []).map((one) => one.name);
    expect(names).toContain("@page");
    expect(names).toContain("@ip");
    expect(names).toContain("@parameter.utm_campaign");
  });

  it("leaves out a question that has no name yet", () => {
    expect(askedBy(sheet({ ...look, name: "" }), []).some((one) => one.group === "Asked")).toBe(
      false,
    );
  });
});

describe("typical answers", () => {
  it("are a share and values by their labels", () => {
    const [one] = askedBy(sheet(look), [
      came("look", { share: 0.966, values: ["moon", "planets", "comets", "never shown"] }),
    ]);
    expect(one && typical(one)).toBe("97% · The Moon, Planets, comets");
  });

  it("are nothing where nothing came", () => {
    const [one] = askedBy(sheet(look), []);
    expect(one && typical(one)).toBe("");
  });
});
