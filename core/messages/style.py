"""The house style: how the letters of a workspace look."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..documents import LEAST_FOR_TEXT, Finding, Frozen, contrast
from .addresses import wrong_address

Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]
Face = Literal["plain", "humanist", "book", "typewriter"]
FACES: dict[Face, str] = {
    "plain": "Helvetica, Arial, sans-serif",
    "humanist": "Verdana, Geneva, sans-serif",
    "book": "Georgia, 'Times New Roman', serif",
    "typewriter": "'Courier New', Courier, monospace",
}
"""Fonts that mail programs have."""
LEAST_FOR_SHAPES = 3.0
"""The least contrast of shapes that have to be told apart (WCAG 2.2, 1.4.11)."""
Pixels = Mapping[tuple[int, int, int, int], int]
"""Of a picture, how often each colour occurs: red, green, blue and opacity, each 0 to 255."""


class StyleLink(Frozen):
    """A link below every letter."""

    label: str = Field(default="", max_length=60)
    link: str = Field(default="", max_length=500)


class Colours(Frozen):
    """The colours of a letter: around it, its ground, its text, its links and buttons, its rules."""

    paper: Colour = "#F2EEE6"
    sheet: Colour = "#FFFFFF"
    ink: Colour = "#22282B"
    accent: Colour = "#1D5B4F"
    rule: Colour = "#E3DCCF"


DARK = Colours(paper="#14181A", sheet="#1D2326", ink="#E9E5DC", accent="#7CC4B2", rule="#3A4347")


class HouseStyle(Frozen):
    """How letters look, and what stands above and below each."""

    logo: str = ""
    """Id of a picture of the library; empty: the name of the sender stands there."""
    dark_logo: str = ""
    """The picture instead of it where a mail program asks for dark colours; empty: the same."""
    logo_width: int = Field(default=140, ge=40, le=400)
    light: Colours = Colours()
    dark: Colours = DARK
    """Where a mail program asks for dark colours."""
    face: Face = "humanist"
    width: int = Field(default=600, ge=400, le=760)
    """CSS pixels."""
    footer: str = Field(default="", max_length=600)
    """Plain text below every letter, besides who sends it and the way to unsubscribe."""
    links: tuple[StyleLink, ...] = Field(default=(), max_length=8)

    @property
    def accent(self) -> str:
        """The colour of links and buttons."""
        return self.light.accent

    @property
    def rule(self) -> str:
        """The colour of rules."""
        return self.light.rule


def check_style(style: HouseStyle, logos: Mapping[str, Pixels] | None = None) -> Iterator[Finding]:
    """Colours that cannot be read (WCAG 2.2, 1.4.3), a logo that cannot be seen, and links that lead
    nowhere. `logos`: pixels of the pictures, by their ids."""
    for scheme, colours in (("", style.light), (" in the dark", style.dark)):
        for name, ink in (("The text", colours.ink), ("Links", colours.accent)):
            ratio = contrast(ink, colours.sheet)
            if ratio < LEAST_FOR_TEXT:
                yield Finding(
                    code="contrast",
                    place="style",
                    sentence=f"{name}{scheme}: {ink} on {colours.sheet} has a contrast of "
                    f"{ratio:.1f}, and {LEAST_FOR_TEXT} is the least that can be read well.",
                    fix="Take a darker or a lighter colour.",
                )
    yield from _check_logos(style, logos or {})
    for one in style.links:
        if wrong := wrong_address(one.link):
            yield Finding(
                code="wrong_link",
                place="style",
                sentence=f"“{one.label or 'A link'}” below letters links to {wrong}",
                fix="Write the link again, or remove it.",
            )


def _check_logos(style: HouseStyle, logos: Mapping[str, Pixels]) -> Iterator[Finding]:
    other = "another" if style.dark_logo else "a"
    for logo, ground, where, fix in (
        (style.logo, style.light.sheet, "", "Choose another logo."),
        (
            style.dark_logo or style.logo,
            style.dark.sheet,
            " in dark mode",
            f"Choose {other} logo for dark mode.",
        ),
    ):
        if hard_to_see(logos.get(logo, {}), ground):
            yield Finding(
                code="logo_contrast",
                place="style",
                sentence=f"The logo is hard to see{where}: most of it is almost the same colour as "
                f"the background, {ground}.",
                fix=fix,
            )


def hard_to_see(pixels: Pixels, ground: Colour) -> bool:
    """Whether less than half of what is seen of a picture stands out from `ground`, which it lets
    through: one without holes brings a ground of its own."""
    seen = {colour: count for colour, count in pixels.items() if colour[3] > 127}
    if not seen or len(seen) == len(pixels):
        return False
    stands_out = sum(
        count
        for (red, green, blue, _), count in seen.items()
        if contrast(f"#{red:02X}{green:02X}{blue:02X}", ground) >= LEAST_FOR_SHAPES
    )
    return 2 * stands_out < sum(seen.values())
