"""Readers of values, against the definitions that they obey."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.documents import Problem
from core.values import (
    Choice,
    ReadingOptions,
    address_key,
    names,
    read,
    read_choice,
    read_email,
    read_long_text,
    read_name,
    read_text,
    read_yes_no,
)


class Addresses(TestCase):
    """WHATWG HTML, "valid email address", and its willful violation of RFC 5322."""

    def test_what_the_definition_allows(self) -> None:
        # From the grammar: local part of atext and dots in any order; labels of RFC 1034 3.5.
        for address in (
            "a@b",
            "a.b@c.example",
            "a..b@c.example",
            ".a.@c.example",
            "!#$%&'*+/=?^_`{|}~-@c.example",
            f"a@{'l' * 63}.example",
            "a@1.example",
        ):
            self.assertEqual(read_email(address), address)

    def test_what_the_definition_forbids(self) -> None:
        for address in (
            "",
            "a",
            "@b",
            "a@",
            "a@b@c",
            "a b@c",
            "a@-b.example",
            "a@b-.example",
            "a@b..example",
            f"a@{'l' * 64}.example",
            '"a b"@c.example',
            "a@[127.0.0.1]",
            "a(comment)@b.example",
            "a@b.example\nBcc: c@d.example",
        ):
            self.assertIsInstance(read_email(address), Problem, address)

    def test_lengths_of_rfc_5321(self) -> None:
        # 4.5.3.1.1: 64 octets of local part; 4.5.3.1.3: a path of 256 with its brackets.
        self.assertEqual(read_email("l" * 64 + "@b.example"), "l" * 64 + "@b.example")
        self.assertIsInstance(read_email("l" * 65 + "@b.example"), Problem)
        domain = ".".join(["d" * 61] * 4)[: 254 - 7]
        self.assertIsInstance(read_email(f"local1@{domain}"), str)
        self.assertIsInstance(read_email(f"local123@{domain}"), Problem)

    def test_outer_space_goes_and_the_domain_is_lowered(self) -> None:
        self.assertEqual(read_email("  Ines@Example.COM \n"), "Ines@example.com")

    def test_internationalised_addresses(self) -> None:
        # RFC 6531 for the local part; RFC 5891 A-labels for the domain.
        self.assertEqual(read_email("ines@bücher.example"), "ines@xn--bcher-kva.example")
        self.assertEqual(read_email("pelé@example.org"), "pelé@example.org")
        self.assertEqual(read_email("pele\u0301@example.org"), "pelé@example.org")

    def test_what_could_not_be_read_and_what_nobody_sees_is_in_no_address(self) -> None:
        for sign in ("\ufffd", "\u202e", "\u200b", "\u00a0", "\ue000", "\ufeff"):
            for address in (f"a{sign}b@example.com", f"é{sign}@example.com"):
                self.assertIsInstance(read_email(address), Problem, ascii(address))
        self.assertEqual(read_email("é@example.com"), "é@example.com")

    def test_one_person_whatever_the_case(self) -> None:
        self.assertEqual(address_key("Ines@example.com"), address_key("INES@example.com"))

    def test_a_problem_names_the_fix(self) -> None:
        problem = read_email("ines.example.com")
        assert isinstance(problem, Problem)
        self.assertIn("@", problem.fix)


class Names(TestCase):
    """nameparser's published examples of prefixes and suffixes, and common practice."""

    def test_parts(self) -> None:
        # "Juan Q. Xavier de la Vega III" is nameparser's own first example.
        self.assertEqual(
            read_name("Juan Q. Xavier de la Vega III", "last", False), "de la Vega III"
        )
        self.assertEqual(
            read_name("Juan Q. Xavier de la Vega III", "first", False), "Juan Q. Xavier"
        )
        self.assertEqual(read_name("Ines van der Berg", "last", False), "van der Berg")
        self.assertEqual(read_name("de la Cruz, Maria", "first", False), "Maria")

    def test_plain_names_are_read_as_the_parser_reads_them(self) -> None:
        words = ["Ines", "INES", "ada", "Noor", "Van", "dr", "Jr", "von", "Macy", "McAda", "Sir", "Ben",
                 "abu", "Al", "MD", "III", "y", "Dame", "king", "Esq", "Lady", "Bin", "Ada"]  # fmt: skip
        words += sorted(names._SPECIAL)[::60]
        plain = 0
        for first in words:
            for whole in (first, *(f"{first} {last}" for last in words)):
                for right in (False, True):
                    plain += all(names._is_plain(one) for one in whole.split())
                    read = names._parts(whole, right and whole in (whole.upper(), whole.lower()))
                    slow = names._parsed(whole, right and whole in (whole.upper(), whole.lower()))
                    self.assertEqual(read, slow, whole)
        self.assertGreater(plain, 50)

    @given(st.from_regex(r"[A-Za-z]{1,12}( [A-Za-z]{1,12})?", fullmatch=True), st.booleans())
    def test_any_two_words_of_letters_are_too(self, whole: str, right: bool) -> None:
        right = right and whole in (whole.upper(), whole.lower())
        self.assertEqual(names._parts(whole, right), names._parsed(whole, right))

    def test_a_single_word_is_a_given_name(self) -> None:
        self.assertEqual(read_name("Ines", "first", True), "Ines")
        self.assertEqual(read_name("Ines", "last", True), "")

    def test_case_is_set_right_where_there_is_one_case_only(self) -> None:
        self.assertEqual(read_name("INES VAN DER BERG", "whole", True), "Ines van der Berg")
        self.assertEqual(read_name("ines", "first", True), "Ines")
        self.assertEqual(read_name("mary-jane o'neil", "whole", True), "Mary-Jane O'Neil")

    def test_a_spelling_of_mixed_case_is_the_persons_own(self) -> None:
        self.assertEqual(read_name("bell hooks Jr", "whole", True), "bell hooks Jr")
        self.assertEqual(read_name("MacDonald", "whole", True), "MacDonald")
        self.assertEqual(read_name("INES", "whole", False), "INES")


class Texts(TestCase):
    def test_one_line(self) -> None:
        self.assertEqual(read_text("  a\r\n\tb  c "), "a b c")
        self.assertEqual(read_text("e\u0301"), "é")
        self.assertEqual(read_text("a\x00\x07b"), "ab")

    def test_many_lines(self) -> None:
        self.assertEqual(read_long_text("a\r\nb\rc\n"), "a\nb\nc")

    def test_too_long_is_a_problem(self) -> None:
        self.assertIsInstance(read_text("x" * 501), Problem)
        self.assertIsInstance(read_long_text("x" * 10_001), Problem)


class Choices(TestCase):
    options = (
        Choice(key="deep-sky", label="Deep sky", synonyms=("galaxies",)),
        Choice(key="aurora", label="Auróra"),
    )

    def test_by_key_label_and_synonym(self) -> None:
        for text in ("deep-sky", "DEEP SKY", "  Deep   sky", "Galaxies"):
            self.assertEqual(read_choice(text, self.options), "deep-sky")
        self.assertEqual(read_choice("aurora", self.options), "aurora")

    def test_an_unknown_one_is_a_problem_with_its_text(self) -> None:
        problem = read_choice("Comets", self.options)
        assert isinstance(problem, Problem)
        self.assertIn("Comets", problem.sentence)


class YesNo(TestCase):
    def test_words(self) -> None:
        # "on": the value of a ticked box without one (WHATWG HTML, constructing entries).
        for text in ("on", "Yes", "TRUE", "1", " y "):
            self.assertIs(read_yes_no(text), True)
        for text in ("no", "False", "0", "off"):
            self.assertIs(read_yes_no(text), False)
        for text in ("", "maybe", "2"):
            self.assertIsInstance(read_yes_no(text), Problem)


class Anything(TestCase):
    @given(
        st.sampled_from(["email", "text", "long_text", "choice", "yes_no"]),
        st.text(),
        st.sampled_from(["whole", "first", "last"]),
        st.booleans(),
    )
    def test_no_reader_ever_raises(
        self, field_type: str, text: str, part: str, case_right: bool
    ) -> None:
        options = ReadingOptions(
            part=part,  # type: ignore[arg-type]
            case_right=case_right,
            choices=Choices.options,
        )
        value = read(field_type, text, options)  # type: ignore[arg-type]
        self.assertIsInstance(value, (str, bool, Problem))

    @given(st.emails())
    def test_addresses_of_rfc_5322_that_forms_take_are_read_the_same_twice(self, text: str) -> None:
        once = read_email(text)
        if isinstance(once, str):
            self.assertEqual(read_email(once), once)
