"""A series of emails in one text: each way that people lay one out (common practice), in each form."""

import unittest
from collections import Counter
from io import BytesIO
from zipfile import ZIP_DEFLATED, ZipFile

from docx import Document
from hypothesis import given, settings
from hypothesis import strategies as st

from core.documents import Problem
from core.messages import SERIES_FORMS, Series, SeriesForm, read_series

MARKDOWN = """\
# Winter sky, in three letters

For the workshop. Not to be sent.

## Day 0: Your star map
Subject: Your star map is here
Preheader: Print it, then switch off the light

Hello {{ first_name }},

here is the **map**.

## Day 2: Which way to look

Look east. See [the calendar](https://example.com/calendar).

- Orion
- Taurus

## Day 7 – A night outside
Subject: Come along on Friday?

We meet at nine.
"""


def text(source: str, form: SeriesForm = "md") -> Series:
    found = read_series(form, source.encode())
    assert isinstance(found, Series), found
    return found


def heads(series: Series) -> list[tuple[str, str, str, int]]:
    return [(one.name, one.subject, one.preheader, one.day) for one in series.emails]


class Texts(unittest.TestCase):
    def test_markdown(self) -> None:
        series = text(MARKDOWN)
        self.assertEqual(
            heads(series),
            [
                (
                    "Your star map",
                    "Your star map is here",
                    "Print it, then switch off the light",
                    0,
                ),
                ("Which way to look", "Which way to look", "", 2),
                ("A night outside", "Come along on Friday?", "", 7),
            ],
        )
        first, second, third = series.emails
        self.assertEqual(
            first.html, "<p>Hello {{ first_name }},</p><p>here is the <strong>map</strong>.</p>"
        )
        self.assertIn('<a href="https://example.com/calendar">the calendar</a>', second.html)
        self.assertIn("<li>Orion</li>", second.html)
        self.assertEqual(third.html, "<p>We meet at nine.</p>")
        [left] = series.left_out
        self.assertIn("Winter sky, in three letters For the workshop. Not to be sent.", left)

    def test_a_plain_text_with_numbered_lines(self) -> None:
        series = text(
            "Email 1: Welcome\nSubject line: Good evening\n\nHello.\nIt is dark.\n\n"
            "Email 2\nWait: 1 week\nSubject: Still there?\n\nHello again.\n\nE-mail #3\n\nGoodbye.\n",
            "txt",
        )
        self.assertEqual(
            heads(series),
            [
                ("Welcome", "Good evening", "", 0),
                ("Still there?", "Still there?", "", 7),
                ("Email 3", "", "", 8),
            ],
        )
        self.assertEqual(series.emails[0].html, "<p>Hello.<br>It is dark.</p>")

    def test_subjects_alone(self) -> None:
        series = text(
            "Subject: One\n\nFirst.\n\nSubject: Two\nPreview text: Soon\n\nSecond.\n", "txt"
        )
        self.assertEqual(heads(series), [("One", "One", "", 0), ("Two", "Two", "Soon", 1)])
        self.assertEqual([one.html for one in series.emails], ["<p>First.</p>", "<p>Second.</p>"])

    def test_the_highest_headings_of_which_there_are_two(self) -> None:
        series = text(
            "# Title\n\n## One\n\n### Within\n\na\n\n### Within too\n\nb\n\n## Two\n\nc\n"
        )
        self.assertEqual([one.name for one in series.emails], ["One", "Two"])
        self.assertIn("<h3>Within</h3>", series.emails[0].html)

    def test_one_heading_and_none(self) -> None:
        self.assertEqual([one.name for one in text("# Only\n\nText.\n").emails], ["Only"])
        series = text("Just a text.\n\nMore of it.\n", "txt")
        [email] = series.emails
        self.assertEqual(email.html, "<p>Just a text.</p><p>More of it.</p>")
        self.assertIn("No heading was found, so the whole text is one email.", series.left_out)

    def test_days_count_from_the_first_whatever_stands_between(self) -> None:
        for source, days in (
            ("## Day 0\n\na\n\n## Without\n\nb\n\n## Day 5\n\nc\n", [0, 1, 5]),
            ("## Day 0\n\na\n\n## Later\nWait: 3 days\n\nb\n\n## Day 5\n\nc\n", [0, 3, 5]),
            ("## First\n\na\n\n## Day 2\n\nb\n", [0, 2]),
            # A day that is over says nothing.
            ("## Day 5\n\na\n\n## Day 3\n\nb\n\n## Day 8\n\nc\n", [5, 6, 8]),
        ):
            with self.subTest(source=source):
                self.assertEqual([one.day for one in text(source).emails], days)

    def test_nothing_dangerous_stays(self) -> None:
        series = text(
            "## One\n\n<script>alert(1)</script>\n\n[x](javascript:alert) ![p](https://example.com/p.png)\n\n## Two\n\nb\n"
        )
        html = "".join(one.html for one in series.emails)
        for part in ("<script", 'href="javascript', "<img"):
            self.assertNotIn(part, html)
        self.assertIn("1 picture was left out. Add it to its letter afterwards.", series.left_out)

    def test_what_cannot_be(self) -> None:
        cases: list[tuple[SeriesForm, bytes, str]] = [
            ("txt", b"", "there is no text in it"),
            ("md", b"   \n\n", "there is no text in it"),
            ("docx", b"PK not really", "not a file of a word processor"),
            ("odt", b"", "not a file of a word processor"),
            ("docx", _packed({"word/document.xml": "<a>"}), "DOCX"),
            ("odt", _packed({"content.xml": "<a>"}), "ODT"),
            ("docx", _packed({"word/document.xml": "x" * (31 * 2**20)}), "too large"),
            ("odt", _packed({f"{one}": "" for one in range(2_001)}), "too large"),
            ("md", b"## a\n\nb\n\n" * 61, "61 headings"),
        ]
        for form, content, says in cases:
            with self.subTest(form=form, says=says):
                found = read_series(form, content)
                assert isinstance(found, Problem), found
                self.assertIn(says, found.sentence)


class Files(unittest.TestCase):
    """Written by python-docx, and by hand (OpenDocument 1.3, part 3); read by other libraries."""

    def test_docx(self) -> None:
        document = Document()
        document.add_heading("Our series", 0)
        document.add_heading("Day 0: Your star map", 1)
        document.add_paragraph("Subject: Your star map is here")
        paragraph = document.add_paragraph("Here is the ")
        paragraph.add_run("map").bold = True
        document.add_heading("Day 3: Which way to look", 1)
        document.add_paragraph("Orion", style="List Bullet")
        into = BytesIO()
        document.save(into)
        series = read_series("docx", into.getvalue())
        assert isinstance(series, Series), series
        self.assertEqual(
            heads(series),
            [
                ("Your star map", "Your star map is here", "", 0),
                ("Which way to look", "Which way to look", "", 3),
            ],
        )
        self.assertEqual(series.emails[0].html, "<p>Here is the <strong>map</strong></p>")
        self.assertEqual(series.emails[1].html, "<ul><li>Orion</li></ul>")

    def test_odt(self) -> None:
        content = (
            '<?xml version="1.0" encoding="UTF-8"?>'
            '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"'
            ' xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"'
            ' xmlns:xlink="http://www.w3.org/1999/xlink" office:version="1.3"><office:body><office:text>'
            '<text:h text:outline-level="1">Day 0: Your star map</text:h>'
            "<text:p>Subject: Your star map is here</text:p>"
            '<text:p>See <text:a xlink:href="https://example.com/map">the map</text:a>.</text:p>'
            '<text:h text:outline-level="1">Day 3: Which way to look</text:h>'
            "<text:p>East.</text:p>"
            "</office:text></office:body></office:document-content>"
        )
        manifest = (
            '<?xml version="1.0" encoding="UTF-8"?><manifest:manifest'
            ' xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">'
            '<manifest:file-entry manifest:full-path="/"'
            ' manifest:media-type="application/vnd.oasis.opendocument.text"/>'
            '<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/>'
            "</manifest:manifest>"
        )
        series = read_series(
            "odt",
            _packed(
                {
                    "mimetype": "application/vnd.oasis.opendocument.text",
                    "content.xml": content,
                    "META-INF/manifest.xml": manifest,
                }
            ),
        )
        assert isinstance(series, Series), series
        self.assertEqual(
            heads(series),
            [
                ("Your star map", "Your star map is here", "", 0),
                ("Which way to look", "Which way to look", "", 3),
            ],
        )
        self.assertIn('<a href="https://example.com/map">the map</a>', series.emails[0].html)


def _packed(parts: dict[str, str]) -> bytes:
    into = BytesIO()
    with ZipFile(into, "w", ZIP_DEFLATED) as packed:
        for name, content in parts.items():
            packed.writestr(name, content)
    return into.getvalue()


WORDS = st.sampled_from(
    ["map", "sky", "winter night", "Orion & Taurus", "{{ first_name }}", "20 %"]
)


class Generated(unittest.TestCase):
    def test_every_series_that_is_written_is_read(self) -> None:
        """Written by the plain rules of Markdown; counted by how they begin."""
        seen: Counter[str] = Counter()

        @settings(max_examples=150, deadline=None)
        @given(
            st.lists(
                st.tuples(WORDS, WORDS, st.booleans(), st.lists(WORDS, min_size=1, max_size=4)),
                min_size=2,
                max_size=8,
            ),
            st.sampled_from(["#", "##", "###"]),
        )
        def check(emails: list[tuple[str, str, bool, list[str]]], mark: str) -> None:
            source = "".join(
                f"{mark} {name}\n\n"
                + (f"Subject: {subject}\n\n" if has else "")
                + "\n\n".join(body)
                + "\n\n"
                for name, subject, has, body in emails
            )
            found = text(source)
            seen[f"{mark} {len(emails)}"] += 1
            self.assertEqual(
                [(one.name, one.subject) for one in found.emails],
                [(name, subject if has else name) for name, subject, has, _ in emails],
            )
            self.assertEqual(
                [one.html.count("<p>") for one in found.emails], [len(body) for *_, body in emails]
            )

        check()
        self.assertGreater(len(seen), 8)
        self.assertGreaterEqual(sum(seen.values()), 100)

    def test_whatever_comes_is_a_series_or_a_problem(self) -> None:
        kinds: Counter[str] = Counter()

        @settings(max_examples=200, deadline=None)
        @given(st.sampled_from(SERIES_FORMS), st.binary(max_size=300))
        def check(form: SeriesForm, content: bytes) -> None:
            kinds[type(read_series(form, content)).__name__] += 1

        check()
        self.assertEqual(set(kinds), {"Series", "Problem"})
