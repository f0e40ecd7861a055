import { expect, test } from "vitest";
import { cleanPasted, pastedText } from "./pasted";

/** What programs put on the clipboard as HTML, and what of it a letter holds. Written by hand after what
 * such programs give (from memory). */
const CLIPBOARDS: [kind: string, html: string, letter: string][] = [
  [
    "a word processor in the browser: a bold wrapper around all of it that is not bold",
    `<meta charset="utf-8"><b style="font-weight:normal;" id="internal-guid-1"><p dir="ltr" style="line-height:1.38;"><span style="font-size:11pt;font-weight:400;">Come on </span><span style="font-size:11pt;font-weight:700;">Friday</span></p><p dir="ltr"><span style="font-style:italic;font-weight:400;">until dusk</span></p></b>`,
    `<p dir="ltr"><span>Come on </span><span><strong>Friday</strong></span></p><p dir="ltr"><span><em>until dusk</em></span></p>`,
  ],
  [
    "a word processor of an office suite: conditional comments, styles, empty paragraphs",
    `<html><head><style>p.a{margin:0}</style></head><body><!--StartFragment--><p class="a" style="margin:0cm"><b>Open night</b><o:p></o:p></p><p class="a"><o:p>&nbsp;</o:p></p><p class="a"><i style="mso-bidi-font-style:normal">Bring</i> a coat<!--[if gte mso 9]><xml></xml><![endif]--></p><!--EndFragment--></body></html>`,
    `<p class="a"><b>Open night</b></p><p class="a"><i>Bring</i> a coat</p>`,
  ],
  [
    "lists of a word processor: paragraphs that are marked as lines of a list",
    `<p style="mso-list:l0 level1 lfo1"><span style="mso-list:Ignore">·<span>&nbsp;&nbsp;</span></span>One</p><p style="mso-list:l0 level2 lfo1"><span style="mso-list:Ignore">o</span>Under it</p><p style="mso-list:l0 level1 lfo1"><span style="mso-list:Ignore">·</span>Two</p><p>After</p><p style="mso-list:l1 level1 lfo2"><span style="mso-list:Ignore">1.</span>First</p>`,
    `<ul><li>One<ul><li>Under it</li></ul></li><li>Two</li></ul><p>After</p><ol><li>First</li></ol>`,
  ],
  [
    "a spreadsheet: a row is a paragraph, its cells apart",
    `<table xmlns="urn:x"><colgroup><col width="64"></colgroup><tbody><tr><td style="font-weight:700">Day</td><td style="font-weight:700">Dome</td></tr><tr><td>Fri</td><td>North</td></tr></tbody></table>`,
    `<p><strong>Day</strong> · <strong>Dome</strong></p><p>Fri · North</p>`,
  ],
  [
    "a table on a page, with heads",
    `<table><thead><tr><th>Telescope</th><th>Age</th></tr></thead><tbody><tr><td>Old refractor</td><td>90</td></tr></tbody></table>`,
    `<p><strong>Telescope</strong> · <strong>Age</strong></p><p>Old refractor · 90</p>`,
  ],
  [
    "a mail program: a table that only places things",
    `<table width="600"><tr><td><p style="font-family:Arial">Dear all,</p><p>see you <span style="text-decoration: line-through">Thursday</span> Friday</p></td></tr></table>`,
    `<div><p>Dear all,</p><p>see you <span><s>Thursday</s></span> Friday</p></div>`,
  ],
  [
    "a browser: headings, links, scripts and styled words of a page",
    `<h2 style="color:red">Programme</h2><p>See <a href="https://a.example/x" style="color:blue">the page</a><script>alert(1)</script> and <strong style="font-weight:bold">come</strong></p>`,
    `<h2>Programme</h2><p>See <a href="https://a.example/x">the page</a> and <strong>come</strong></p>`,
  ],
  [
    "text from right to left, the direction on a box around it",
    `<div dir="rtl"><p>שלום</p><p dir="ltr">Hello</p></div>`,
    `<div dir="rtl"><p dir="rtl">שלום</p><p dir="ltr">Hello</p></div>`,
  ],
  [
    "text from right to left by its style",
    `<p style="direction: rtl; text-align: right">مرحبا</p>`,
    `<p dir="rtl">مرحبا</p>`,
  ],
  [
    "a template with tokens: they are chips",
    `<p>Hello {{ first_name | default: "you" }}, and {{ city }}</p>`,
    `<p>Hello <span data-field="first_name" data-fallback="you"></span>, and <span data-field="city" data-fallback=""></span></p>`,
  ],
  [
    "a letter of ours",
    `<p data-pm-slice="1 1 []">Dear <span class="field-chip" data-field="city" data-fallback="">City</span></p>`,
    `<p data-pm-slice="1 1 []">Dear <span class="field-chip" data-field="city" data-fallback="">City</span></p>`,
  ],
];

test.each(CLIPBOARDS)("pasted from %s", (_kind, html, letter) => {
  const cleaned = cleanPasted(html);
  expect(cleaned).toBe(letter);
  expect(cleaned).not.toContain("style=");
});

test("pasted text: paragraphs, breaks, tokens; what looks like HTML stays text", () => {
  expect(pastedText("Dear {{ city }}\r\nline\n\n\n<b>two</b>")).toBe(
    '<p>Dear <span data-field="city" data-fallback=""></span><br>line</p><p>&lt;b&gt;two&lt;/b&gt;</p>',
  );
});
