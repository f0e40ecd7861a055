import { describe, expect, it } from "vitest";
import type { Schemas } from "../../../api/client";
import { plainHtml } from "./plainHtml";
import { emptyQuestion, type Question } from "../routeDocument";

const question = (type: Question["type"], change: Partial<Question> = {}): Question => ({
  ...emptyQuestion(type, false),
  name: "one",
  label: "One",
  ...change,
});

function html(...questions: Question[]): string {
  const form: Schemas["Form"] = {
    title: "",
    intro: "",
    button: "",
    language: "",
    questions,
    picture_says: "",
    words: {},
    pop_up: { opens: "seconds", after: 8, button: "", not_again: 30 },
    shared_screen: false,
  };
  return plainHtml(form, "https://forms.larkmoor.example/f/guide?a=1&b=2");
}

describe("the form as plain HTML", () => {
  it("posts to its address in UTF-8, and keeps the box that people do not see", () => {
    const found = html();
    expect(found).toContain('action="https://forms.larkmoor.example/f/guide?a=1&amp;b=2"');
    expect(found).toContain('accept-charset="utf-8"');
    expect(found).toContain('name="_website" tabindex="-1"');
    expect(found).toContain("<button>Send</button>");
  });

  it("lets no label, name or value end its tag", () => {
    const evil = `"><script>alert('x')</script>&`;
    const found = html(
      question("text", { label: evil, name: evil }),
      question("hidden", { value: evil }),
      question("choice", { choices: [{ key: evil, label: evil, synonyms: [] }] }),
    );
    expect(found).not.toContain("<script");
    expect(found).not.toMatch(/value="">/);
    expect(found).toContain("&quot;&gt;&lt;script&gt;");
  });

  it("gives each type the input that asks for it", () => {
    expect(html(question("email", { required: true }))).toContain(
      '<label>One <input type="email" name="one" required></label>',
    );
    expect(html(question("phone"))).toContain('type="tel"');
    expect(html(question("long_text"))).toContain('<textarea name="one"></textarea>');
    expect(html(question("consent", { required: true }))).toContain(
      '<input type="checkbox" name="one" value="yes" required> One',
    );
    expect(html(question("hidden", { value: "fair" }))).toContain(
      '<input type="hidden" name="one" value="fair">',
    );
  });

  it("offers choices by their keys, one or several", () => {
    const choices = [
      { key: "moon", label: "The Moon", synonyms: [] },
      { key: "planets", label: "Planets", synonyms: [] },
    ];
    const one = html(question("choice", { choices }));
    expect(one).toContain('<input type="radio" name="one" value="moon"> The Moon');
    expect(one.match(/type="radio"/g)).toHaveLength(2);
    expect(html(question("choices", { choices })).match(/type="checkbox"/g)).toHaveLength(2);
  });

  it("gives an address and a name in two their boxes", () => {
    const address = html(question("address"));
    for (const part of ["street", "city", "region", "postal_code", "country"]) {
      expect(address).toContain(`name="one.${part}"`);
    }
    expect(html(question("name", { boxes: 2 }))).toContain(
      'First name <input type="text" name="one.first"',
    );
  });
});
