"""Messages: laid out, filled, shown to some, checked, told apart, in and out.

HTML is read back by the standard library's parser, which wrote none of it. RFC numbers stand beside
what follows them; "common practice" and "from memory" beside what does not.
"""

import re
from datetime import date, datetime, timedelta
from html.parser import HTMLParser
from itertools import combinations
from typing import Any
from unittest import TestCase
from urllib.parse import parse_qs, urlsplit

from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from core.conditions import FieldTest, Group, ScoreTest
from core.delivering import allowed_within_hour
from core.documents import Problem
from core.messages import (
    FOOTER_PARTS,
    ButtonBlock,
    Colours,
    Column,
    ColumnsBlock,
    DividerBlock,
    FileBlock,
    Filled,
    FooterBlock,
    Frame,
    HeadingBlock,
    HouseStyle,
    Incoming,
    MessageDocument,
    Parameter,
    PictureBlock,
    PictureFacts,
    QuotationBlock,
    SpaceBlock,
    StyleLink,
    TextBlock,
    Touched,
    Written,
    as_eml,
    as_html,
    changes_between,
    check_document,
    check_size,
    check_style,
    clean_html,
    counted_links,
    delivery_warnings,
    fill,
    from_eml,
    from_html,
    from_mjml,
    hidden_from,
    judge,
    lay_out,
    mjml_of,
    with_counters,
    with_parameters,
    write,
)
from core.messages.addresses import wrong_address
from core.tests.observatory import CATALOGUE

FRAME = Frame("Larkmoor", "1 Dome Road", why="You signed up for Open-night news.")
OURS = {
    "leave_link": "https://mail.example/u/1",
    "own_page": "https://mail.example/p/1",
    "file_link": "https://mail.example/d/1",
    "confirm_link": "https://mail.example/c/1",
}
PICTURE = PictureFacts(
    "https://mail.example/i/a/1x.png", "https://mail.example/i/a/2x.png", 500, 300
)
PICTURES = {"pic": PICTURE}
EVERY = MessageDocument(
    subject="For {{ name }}",
    preheader="Tonight, {{ name }}",
    language="en",
    blocks=(
        HeadingBlock(id="h", text="Hello {{ name }}"),
        TextBlock(id="t", html='<p>See <a href="https://shop.example/?n={{ name }}">it</a>.</p>'),
        PictureBlock(
            id="p", picture="pic", alt="{{ name }} at night", link="https://a.example/{{ name }}"
        ),
        ButtonBlock(id="b", label="Go, {{ name }}", link="https://b.example/?n={{ name }}"),
        FileBlock(id="f", label="Your file, {{ name }}"),
        QuotationBlock(id="q", html="<p>{{ name }} said</p>", by="{{ name }}"),
        FooterBlock(id="fo", part="sender"),
        DividerBlock(id="d"),
        SpaceBlock(id="s", height=40),
        ColumnsBlock(
            id="c",
            columns=(
                Column(id="c1", blocks=(TextBlock(id="ct", html="<p>left {{ name }}</p>"),)),
                Column(
                    id="c2",
                    parts=2,
                    blocks=(ButtonBlock(id="cb", label="Right", link="https://c.example/"),),
                ),
            ),
        ),
    ),
)


class Seen(HTMLParser):
    """A document as a browser's first pass sees it: tags with their attributes, and text."""

    def __init__(self, html: str) -> None:
        super().__init__()
        self.tags: list[tuple[str, dict[str, str]]] = []
        self.words: list[str] = []
        self._silent = 0
        self.feed(html)
        self.close()

    def handle_starttag(self, tag: str, attrs: Any) -> None:
        self.tags.append((tag, {key: value or "" for key, value in attrs}))
        self._silent += tag in ("style", "title")

    def handle_endtag(self, tag: str) -> None:
        self._silent -= tag in ("style", "title")

    def handle_data(self, data: str) -> None:
        if not self._silent and data.strip():
            self.words.append(" ".join(data.split()))

    def all(self, tag: str, attribute: str) -> list[str]:
        return [found[attribute] for name, found in self.tags if name == tag and attribute in found]


def made(
    document: MessageDocument,
    hidden: frozenset[str] = frozenset(),
    style: HouseStyle | None = None,
    **context: object,
) -> Filled:
    template = lay_out(document, hidden, style or HouseStyle(), FRAME, PICTURES)
    written = write(template.sources, {**OURS, **context})
    assert isinstance(written, Written), written
    return fill(template, written.parts)


class LayingOut(TestCase):
    def test_every_block_is_there_in_order_in_both_parts(self) -> None:
        filled = made(EVERY, name="Ines")
        order = [
            "Hello Ines",
            "See",
            "Go, Ines",
            "Your file, Ines",
            "Ines said",
            "left Ines",
            "Right",
        ]
        for text in (" ".join(Seen(filled.html).words), filled.text):
            places = [text.index(words) for words in order]
            self.assertEqual(places, sorted(places))
        self.assertEqual((filled.subject, filled.preheader), ("For Ines", "Tonight, Ines"))
        self.assertIn("[Ines at night]", filled.text)
        self.assertIn("https://b.example/?n=Ines", filled.text)

    def test_pictures_say_what_they_show_and_have_two_sizes(self) -> None:
        seen = Seen(made(EVERY, name="Ines").html)
        [image] = [one for tag, one in seen.tags if tag == "img"]
        self.assertEqual(image["alt"], "Ines at night")
        self.assertEqual(image["width"], "500")
        self.assertIn("2x.png 2x", image["srcset"])

    def test_who_sends_it_and_the_way_out_stand_in_both_parts(self) -> None:
        style = HouseStyle(
            footer="Open on Fridays", links=(StyleLink(label="Map", link="https://l.example/"),)
        )
        for document in (EVERY, EVERY.model_copy(update={"text": "By hand, {{ name }}"})):
            filled = made(document, style=style, name="Ines")
            for text in (filled.html, filled.text):
                for words in (
                    "1 Dome Road",
                    "Open-night news",
                    OURS["leave_link"],
                    "Open on Fridays",
                ):
                    self.assertIn(words, text)
        self.assertTrue(filled.text.startswith("By hand, Ines"))
        self.assertNotIn("left Ines", filled.text)

    def test_each_part_of_the_footer_stands_once_wherever_it_is_placed(self) -> None:
        """Every choice of the six parts, in the letter or in a column of it."""
        style = HouseStyle(
            footer="Clear skies", links=(StyleLink(label="Shop", link="https://s.example/"),)
        )
        said = {
            "text": "Clear skies", "links": "https://s.example/", "sender": "1 Dome Road",
            "why": FRAME.why, "leave": OURS["leave_link"], "own_page": OURS["own_page"],
        }  # fmt: skip
        tried = 0
        for size in range(len(FOOTER_PARTS) + 1):
            for chosen in combinations(FOOTER_PARTS, size):
                blocks = [FooterBlock(id=f"f-{one}", part=one) for one in chosen]
                column = Column(id="c1", blocks=tuple(blocks[:1]))
                placed = (
                    TextBlock(id="t", html="<p>Hello</p>"),
                    *blocks[1:],
                    ColumnsBlock(id="c", columns=(column, Column(id="c2"))),
                    TextBlock(id="end", html="<p>The end</p>"),
                )
                document = MessageDocument(subject="x", blocks=placed)
                template = lay_out(document, frozenset(), style, FRAME, {})
                written = write(template.sources, OURS)
                assert isinstance(written, Written)
                filled = fill(template, written.parts)
                for part in FOOTER_PARTS:
                    for text in (filled.html, filled.text):
                        self.assertEqual(text.count(said[part]), 1, (chosen, part))
                        above = text.index(said[part]) < text.index("The end")
                        self.assertEqual(above, part in chosen, (chosen, part))
                tried += 1
        self.assertEqual(tried, 64)

    def test_language_and_direction(self) -> None:
        for language, side in (("de", "ltr"), ("ar", "rtl"), ("he-IL", "rtl"), ("", "ltr")):
            html = made(EVERY.model_copy(update={"language": language}), name="x").html
            [root] = [one for tag, one in Seen(html).tags if tag == "html"]
            self.assertEqual((root["lang"], root["dir"]), (language or "en", side))
            self.assertNotIn("und", (root["lang"],))

    @given(st.text(min_size=1, max_size=60))
    def test_no_value_becomes_part_of_the_frame(self, name: str) -> None:
        plain = Seen(made(EVERY, name="x").html)
        found = Seen(made(EVERY, name=name).html)
        shape = [(tag, sorted(attributes)) for tag, attributes in plain.tags]
        self.assertEqual([(tag, sorted(attributes)) for tag, attributes in found.tags], shape)
        for before, after in zip(plain.all("a", "href"), found.all("a", "href"), strict=True):
            self.assertEqual(urlsplit(after).netloc, urlsplit(before).netloc)

    def test_what_a_member_writes_cannot_run(self) -> None:
        for evil in (
            "<script>alert(1)</script>",
            '{{ "PHNjcmlwdD5hKDEpPC9zY3JpcHQ+" | base64_decode }}',
            '{{ "<script>a(1)</script>" }}',
            '<img src="javascript:a(1)" onerror="a(1)">',
            '<a href="javascript:a(1)">x</a>',
        ):
            document = MessageDocument(
                subject=evil,
                blocks=(
                    TextBlock(id="t", html=clean_html(evil)),
                    TextBlock(id="u", html=evil),
                    HeadingBlock(id="h", text=evil),
                    ButtonBlock(id="b", label=evil, link='{{ "javascript:a(1)" }}'),
                ),
            )
            seen = Seen(made(document).html)
            self.assertNotIn("script", [tag for tag, _ in seen.tags])
            for _, attributes in seen.tags:
                self.assertFalse([key for key in attributes if key.startswith("on")])
                self.assertNotIn(
                    "javascript", attributes.get("href", "") + attributes.get("src", "")
                )

    def test_blocks_for_some_people(self) -> None:
        looks = Group(of=(FieldTest(field="f-interest", value="moon"),))
        blocks = (
            TextBlock(id="all", html="<p>For all</p>"),
            TextBlock(id="moon", html="<p>For the Moon</p>", only=looks),
            ColumnsBlock(
                id="c",
                columns=(
                    Column(id="c1", blocks=(TextBlock(id="x", html="<p>In one</p>", only=looks),)),
                    Column(id="c2", blocks=()),
                ),
            ),
        )
        document = MessageDocument(subject="x", blocks=blocks)
        self.assertEqual(hidden_from(document, lambda _: False), {"moon", "x"})
        self.assertEqual(hidden_from(document, lambda _: True), frozenset())
        shown = made(document, hidden_from(document, lambda _: False))
        for text in (shown.html, shown.text):
            self.assertIn("For all", text)
            self.assertNotIn("Moon", text)
            self.assertNotIn("In one", text)

    def test_colours_that_cannot_be_read(self) -> None:
        # WCAG 2.2, 1.4.3: #777777 on white is 4.48:1, #767676 is 4.54:1.
        for ink, codes in (("#777777", ["contrast"]), ("#767676", [])):
            style = HouseStyle(light=Colours(sheet="#FFFFFF", ink=ink))
            self.assertEqual([one.code for one in check_style(style)], codes)
        self.assertEqual(list(check_style(HouseStyle())), [])

    def test_logos_that_cannot_be_seen(self) -> None:
        # WCAG 2.2, 1.4.11 asks for 3 to 1: #949494 on white is 3.03, #959595 is 2.99.
        nothing, grey, pale = (0, 0, 0, 0), (0x94, 0x94, 0x94, 255), (0x95, 0x95, 0x95, 255)
        for pixels, wrong in (
            ({nothing: 9, grey: 1}, False),
            ({nothing: 9, pale: 1}, True),
            # Half of what is seen is enough, whatever is not seen at all.
            ({nothing: 90, pale: 5, grey: 5}, False),
            ({nothing: 90, pale: 6, grey: 5}, True),
            # What hides all of the background has one of its own.
            ({pale: 10}, False),
            # Less than half opaque is not seen.
            ({nothing: 9, grey: 1, (0x95, 0x95, 0x95, 127): 50}, False),
            ({nothing: 10}, False),
            ({}, False),
        ):
            with self.subTest(pixels):
                style = HouseStyle(logo="one", light=Colours(sheet="#FFFFFF"))
                found = [one.code for one in check_style(style, {"one": pixels})]
                self.assertEqual(found, ["logo_contrast"] * wrong)

    def test_the_logo_for_the_dark_is_judged_where_it_stands(self) -> None:
        night, day = {(0, 0, 0, 0): 9, (0, 0, 0, 255): 9}, {(0, 0, 0, 0): 9, (255,) * 4: 9}
        logos = {"black": night, "white": day}
        for logo, dark_logo, said in (
            ("black", "", [" in dark mode: "]),
            ("black", "white", []),
            ("white", "", [" see: "]),
            ("white", "black", [" see: ", " in dark mode: "]),
        ):
            style = HouseStyle(logo=logo, dark_logo=dark_logo)
            found = [one.sentence for one in check_style(style, logos)]
            self.assertEqual(len(found), len(said), (logo, dark_logo))
            for one, words in zip(found, said, strict=True):
                self.assertIn(words, one)

    def test_a_logo_for_the_dark_is_hidden_until_it_is_asked_for(self) -> None:
        dark = PictureFacts("https://mail.example/i/n.png", "https://mail.example/i/n2.png", 90, 30)
        pictures = {"day": PICTURE, "night": dark}
        document = MessageDocument(subject="x", blocks=(TextBlock(id="t", html="<p>Text</p>"),))
        for dark_logo, shown in (("", [PICTURE.address]), ("night", [PICTURE.address])):
            style = HouseStyle(logo="day", dark_logo=dark_logo)
            template = lay_out(document, frozenset(), style, FRAME, pictures)
            html = "".join(one for one in template.html if isinstance(one, str))
            # A mail program that reads no style sheets goes by the style of the element alone.
            cells = re.findall(r'<td class="by-night"[^>]*style="([^"]*)"', html)
            self.assertEqual(["display: none" in one for one in cells], [True] * bool(dark_logo))
            addresses = [one["src"] for tag, one in Seen(html).tags if tag == "img"]
            self.assertEqual(addresses, shown + [dark.address] * bool(dark_logo))


class Links(TestCase):
    def test_each_link_has_a_number_but_those_that_act_for_the_person(self) -> None:
        template = lay_out(EVERY, frozenset(), HouseStyle(), FRAME, PICTURES)
        self.assertEqual(
            list(template.links),
            [
                "https://shop.example/?n={{ name | url_encode }}",
                "https://a.example/{{ name }}",
                "https://b.example/?n={{ name }}",
                "{{ file_link }}",
                "https://c.example/",
            ],
        )
        followed: list[tuple[int, str]] = []

        def change(number: int, address: str) -> str:
            followed.append((number, address))
            return f"https://count.example/{number}"

        html = counted_links(made(EVERY, name="a b").html, change)
        self.assertNotIn("data-l", html)
        hrefs = Seen(html).all("a", "href")
        self.assertEqual(
            [one for one in hrefs if "count.example" in one],
            [f"https://count.example/{number}" for number in (0, 1, 2, 3, 4)],
        )
        self.assertIn((0, "https://shop.example/?n=a+b"), followed)
        self.assertIn(OURS["leave_link"], hrefs)
        self.assertIn(OURS["own_page"], hrefs)

    def test_parameters_are_added_and_own_ones_kept(self) -> None:
        parameters = [("utm_source", "letter"), ("utm_medium", "email"), ("utm_term", "")]
        for address, expected in (
            ("https://a.example", {"utm_source": ["letter"], "utm_medium": ["email"]}),
            (
                "https://a.example/p?x=1&utm_source=own#top",
                {"x": ["1"], "utm_source": ["own"], "utm_medium": ["email"]},
            ),
            ("https://a.example/?utm_medium=", {"utm_medium": [""], "utm_source": ["letter"]}),
        ):
            found = urlsplit(with_parameters(address, parameters))
            self.assertEqual(parse_qs(found.query, keep_blank_values=True), expected)
            self.assertEqual(found.fragment, urlsplit(address).fragment)
        for address in ("mailto:a@b.example", "tel:+44123", "#"):
            self.assertEqual(with_parameters(address, parameters), address)

    def test_the_picture_and_the_hidden_link_are_seen_by_nobody(self) -> None:
        html = with_counters(
            "<html><body><p>x</p></body></html>", "https://p.example/", "https://t.example/"
        )
        seen = Seen(html)
        [image] = [one for tag, one in seen.tags if tag == "img"]
        self.assertEqual((image["alt"], image["width"], image["height"]), ("", "1", "1"))
        [hidden] = [one for tag, one in seen.tags if tag == "div"]
        self.assertEqual((hidden["aria-hidden"], hidden["style"]), ("true", "display:none"))
        self.assertEqual(seen.words, ["x"])

    def test_addresses_that_lead_nowhere(self) -> None:
        good = (
            "https://a.example", "http://localhost/x", "https://a.example:8443/p?q={{ name }}",
            "{{ file_link }}", "mailto:a@b.example", "tel:+441234", "https://{{ host }}.example/",
            "https://[2001:db8::1]/",
        )  # fmt: skip
        bad = (
            "", "#", "a.example/x", "https://", "https://a", "https://a..example", "ftp://a.example/",
            "javascript:alert(1)", "https://a.example/with space", "mailto:", "https://a.example:99999/",
        )  # fmt: skip
        self.assertEqual([one for one in good if wrong_address(one)], [])
        self.assertEqual([one for one in bad if not wrong_address(one)], [])


SENT = datetime(2026, 11, 26, 9, 0)


def touch(kind: Any = "click", after: float = 600, link: str = "a", **more: str) -> Touched:
    return Touched(kind, SENT + timedelta(seconds=after), link, **{"agent": "Mozilla/5.0", **more})


class PeopleAndPrograms(TestCase):
    """Common practice; each case is written out."""

    def judged(self, *touches: Touched, links: int = 5) -> list[str]:
        return [one.by for one in judge(touches, SENT, links)]

    def test_one_click_some_time_later_is_a_person(self) -> None:
        self.assertEqual(self.judged(touch(), touch("open", 598)), ["person", "person"])

    def test_what_comes_within_seconds_of_the_handover_is_a_program(self) -> None:
        self.assertEqual(self.judged(touch("open", 1), touch(after=2)), ["machine", "machine"])

    def test_every_link_at_once_is_a_program_and_a_person_later_is_one(self) -> None:
        scan = [touch(after=300 + n * 0.4, link=str(n)) for n in range(5)]
        self.assertEqual(
            self.judged(*scan, touch(after=9_000, link="3")), ["machine"] * 5 + ["person"]
        )

    def test_two_links_of_two_one_after_the_other_are_a_person(self) -> None:
        clicks = [touch(after=300, link="a"), touch(after=303, link="b")]
        self.assertEqual(self.judged(*clicks, links=2), ["person", "person"])

    def test_the_hidden_link_gives_away_what_comes_with_it(self) -> None:
        touches = [touch(after=500), touch("trap", 505, ""), touch("open", 540), touch(after=700)]
        self.assertEqual(self.judged(*touches), ["machine", "machine", "machine", "person"])

    def test_programs_by_their_own_words(self) -> None:
        for agent in (
            "",
            "Mail-Scanner/2",
            "python-httpx/0.28",
            "curl/8",
            "SomeBot/1.0",
            "Link Preview",
        ):
            self.assertEqual(self.judged(touch(agent=agent)), ["machine"], agent)
        self.assertEqual(self.judged(touch(how="HEAD")), ["machine"])
        self.assertEqual(self.judged(touch(how="prefetch")), ["machine"])

    def test_the_order_they_are_stored_in_does_not_matter(self) -> None:
        touches = [touch("trap", 505, ""), touch(after=500), touch(after=700)]
        by = {one.at: found for one, found in zip(touches, self.judged(*touches), strict=True)}
        turned = touches[::-1]
        self.assertEqual(
            {one.at: found for one, found in zip(turned, self.judged(*turned), strict=True)}, by
        )


class PreFlight(TestCase):
    def codes(self, *blocks: Any, has_file: bool = False, subject: str = "x") -> list[str]:
        document = MessageDocument(subject=subject, blocks=blocks)
        found = check_document("m", document, CATALOGUE.fields, PICTURES, has_file=has_file)
        return [one.code for one in found]

    def test_each_thing_that_is_wrong(self) -> None:
        text = TextBlock(id="t", html="<p>Hello</p>")
        self.assertEqual(self.codes(text), [])
        self.assertEqual(self.codes(), ["no_text"])
        self.assertEqual(self.codes(text, subject="y" * 61), ["long_subject"])
        self.assertEqual(self.codes(text, HeadingBlock(id="h")), ["empty_block"])
        self.assertEqual(self.codes(text, PictureBlock(id="p")), ["no_picture"])
        self.assertEqual(
            self.codes(text, PictureBlock(id="p", picture="gone", alt="x")), ["no_picture"]
        )
        self.assertEqual(self.codes(PictureBlock(id="p", picture="pic")), ["no_alt"])
        self.assertEqual(self.codes(PictureBlock(id="p", picture="pic", ornament=True)), [])
        self.assertEqual(
            self.codes(text, ButtonBlock(id="b", label="Go", link="shop")), ["wrong_link"]
        )
        self.assertEqual(
            self.codes(TextBlock(id="t", html='<p><a href="shop">x</a></p>')), ["wrong_link"]
        )
        self.assertEqual(self.codes(text, FileBlock(id="f")), ["no_file"])
        self.assertEqual(self.codes(text, has_file=True), ["file_not_linked"])
        self.assertEqual(self.codes(text, FileBlock(id="f"), has_file=True), [])
        columns = ColumnsBlock(id="c", columns=(Column(id="1"), Column(id="2")))
        self.assertEqual(self.codes(text, columns), ["empty_block"])
        self.assertEqual(
            self.codes(text, ButtonBlock(id="b", label="{{ a", link="https://a.example")),
            ["not_liquid"],
        )

    def test_html_that_is_cut_off(self) -> None:
        # Common practice: about 100 KB.
        self.assertEqual(list(check_size("m", "x" * 100 * 1024)), [])
        self.assertEqual(
            [one.code for one in check_size("m", "x" * (100 * 1024 + 1))], ["too_long"]
        )


class InAndOut(TestCase):
    def test_mjml_out_and_in_again(self) -> None:
        source = mjml_of(EVERY, HouseStyle(), FRAME, PICTURES)
        self.assertIn("{{ name }}", source)
        found = from_mjml(source)
        assert isinstance(found, Incoming)
        kinds = [one.kind for one in found.document.blocks]
        self.assertIn("columns", kinds)
        self.assertIn("button", kinds)
        self.assertEqual(found.document.subject, "For {{ name }}")
        self.assertIn("left {{ name }}", found.document.model_dump_json())

    def test_what_has_no_place_is_said(self) -> None:
        source = (
            "<mjml><mj-body><mj-section><mj-column><mj-text>Hi&nbsp;<br>there</mj-text>"
            "<mj-social /><mj-social /></mj-column></mj-section><mj-hero /></mj-body></mjml>"
        )
        found = from_mjml(source)
        assert isinstance(found, Incoming)
        self.assertEqual(found.left_out, ["<mj-hero>.", "<mj-social> (2 times)."])
        self.assertIn("there", found.document.model_dump_json())

    def test_what_is_no_mjml(self) -> None:
        for source in (
            "",
            "<mjml>",
            "<html></html>",
            "<!DOCTYPE a [<!ENTITY b 'c'>]><mjml>&b;</mjml>",
        ):
            self.assertNotIsInstance(from_mjml(source), Incoming, source)

    def test_html_in(self) -> None:
        found = from_html(
            "<html><head><title>Hi there</title><style>p{}</style></head><body><table><tr><td>"
            "<p onclick='x'>One <b>two</b></p><script>x</script></td></tr></table><blink>y</blink></body></html>"
        )
        assert isinstance(found, Incoming)
        self.assertEqual(found.document.subject, "Hi there")
        [block] = found.document.blocks
        self.assertEqual(getattr(block, "html", ""), "<p>One <b>two</b></p>y")
        self.assertEqual(
            found.left_out,
            [
                "Scripts.",
                "Styles.",
                "Tables: their text stays.",
                "Formatting by <blink>: its text stays.",
            ],
        )

    def test_what_is_nested_too_deep_or_too_long_is_refused_before_it_is_read(self) -> None:
        deep = "<b>" * 12_000 + "x"
        many = "<br>" * 5_000
        divs = "<div>" * 20_000 + "x" + "</div>" * 20_000
        for source in (deep, many):
            with self.assertRaises(ValidationError):
                TextBlock(id="a", html=source)
            with self.assertRaises(ValidationError):
                QuotationBlock(id="a", html=source)
        for source in (deep, divs):
            found = from_html(source)
            assert isinstance(found, Problem)
            self.assertEqual(found.code, "too_complex")
            eml = b"Content-Type: text/html; charset=utf-8\r\n\r\n" + source.encode()
            self.assertIsInstance(from_eml(eml), Problem)
        # Tables of tables, as letters are made of, are read.
        tables = "<table><tr><td>" * 20 + "<p>x</p>" + "</td></tr></table>" * 20
        self.assertIsInstance(from_html(tables), Incoming)
        TextBlock(id="a", html="<ul><li>" * 20 + "x" + "</li></ul>" * 20)

    def test_an_email_in_and_out(self) -> None:
        # RFC 5322 and 2045, written by hand.
        raw = (
            b"Subject: =?utf-8?q?Gr=C3=BC=C3=9Fe?=\r\nMIME-Version: 1.0\r\n"
            b'Content-Type: multipart/mixed; boundary="b"\r\n\r\n--b\r\n'
            b"Content-Type: text/html; charset=utf-8\r\n\r\n<p>Hello</p>\r\n--b\r\n"
            b'Content-Type: application/pdf\r\nContent-Disposition: attachment; filename="a.pdf"\r\n\r\nx\r\n--b--\r\n'
        )
        found = from_eml(raw)
        assert isinstance(found, Incoming)
        self.assertEqual(found.document.subject, "Grüße")
        self.assertEqual(found.left_out, ["Attached files: a.pdf."])
        out = as_eml(EVERY, HouseStyle(), FRAME, PICTURES, '"L" <a@b.example>')
        head, _, body = out.partition(b"\r\n\r\n")
        self.assertIn(b"Subject: For {{ name }}", head)
        self.assertIn(b"text/html", body)
        self.assertIn("{{ name", as_html(EVERY, HouseStyle(), FRAME, PICTURES))

    @given(st.binary(max_size=400))
    def test_whatever_comes_in_is_read_or_refused(self, content: bytes) -> None:
        self.assertIsInstance(from_eml(content), Incoming)
        self.assertIsInstance(from_html(content.decode("latin-1")), Incoming)
        from_mjml(content.decode("latin-1"))


class Figures(TestCase):
    def test_rates_that_receivers_do_not_tolerate(self) -> None:
        # Common practice: complaints under 0.1 %, never 0.3 %; hard bounces under 2 %.
        def codes(sent: int, bounced: int, complained: int) -> list[tuple[str, bool]]:
            return [
                (one.code, one.stops) for one in delivery_warnings("", sent, bounced, complained)
            ]

        self.assertEqual(codes(10_000, 199, 9), [])
        self.assertEqual(codes(10_000, 200, 10), [("complaints", False), ("bounces", False)])
        self.assertEqual(codes(10_000, 0, 30), [("complaints", True)])
        self.assertEqual(codes(99, 99, 99), [])
        self.assertEqual(codes(120, 0, 1), [])
        self.assertEqual(codes(120, 0, 2), [("complaints", True)])

    def test_a_new_sender_begins_with_few_and_doubles(self) -> None:
        first = date(2026, 11, 1)
        grown = [
            allowed_within_hour(None, first, first + timedelta(days=n), each_domain=False)
            for n in range(15)
        ]
        self.assertEqual(grown[:3], [200, 400, 800])
        self.assertIsNone(grown[14])
        self.assertEqual(
            allowed_within_hour(300, first, first + timedelta(days=5), each_domain=True), 300
        )
        self.assertEqual(allowed_within_hour(300, None, first, each_domain=True), 300)


class Differences(TestCase):
    def test_in_sentences(self) -> None:
        after = EVERY.model_copy(
            update={
                "subject": "New",
                "opens": True,
                "utm": (Parameter(name="utm_source", value="letter"),),
                "blocks": (
                    EVERY.blocks[1],
                    EVERY.blocks[0],
                    ButtonBlock(id="n", label="More", link="https://n.example"),
                ),
            }
        )
        said = list(changes_between(EVERY, after, CATALOGUE))
        self.assertIn("Subject: “For [name]” → “New”", said)
        self.assertIn("Opens are counted: as the workspace says → yes", said)
        self.assertIn("Parameters of links: none → utm_source=letter", said)
        self.assertIn("Block added: button “More” to https://n.example", said)
        self.assertIn("Block taken out: divider", said)
        self.assertIn("The blocks stand in another order.", said)
        self.assertEqual(list(changes_between(EVERY, EVERY, CATALOGUE)), [])

    def test_by_labels_and_by_what_is_different_in_a_long_text(self) -> None:
        long = "Hello {{ first_name | default: 'you' }}, " + "the dome is open every Friday. " * 5
        before = MessageDocument(blocks=(TextBlock(id="t", html=f"<p>{long}Bring a coat.</p>"),))
        after = MessageDocument(
            blocks=(TextBlock(id="t", html=f"<p>{long}Bring a warm coat.</p>"),)
        )
        [sentence] = changes_between(before, after, CATALOGUE)
        self.assertEqual(
            sentence,
            "Block changed: “… Friday. Bring a coat.” → “… Friday. Bring a warm coat.”",
        )
        for_some = after.model_copy(
            update={
                "blocks": (
                    after.blocks[0].model_copy(update={"only": Group(of=(ScoreTest(value=3),))}),
                )
            }
        )
        [sentence] = changes_between(after, for_some, CATALOGUE)
        self.assertIn("text “Hello [First name], the dome", sentence)
        self.assertIn("only for: the score is at least 3", sentence)
        self.assertNotIn("{{", sentence)
