"""The observatory's letters: its house style, its pictures, and what it writes."""

import io
import random

from PIL import Image, ImageDraw, ImageFont

from core.conditions import Group, HappenedTest
from core.messages import (
    Block,
    ButtonBlock,
    Colours,
    Column,
    ColumnsBlock,
    DividerBlock,
    FileBlock,
    HeadingBlock,
    HouseStyle,
    PictureBlock,
    QuotationBlock,
    StyleLink,
    TextBlock,
)
from server.mail.house import set_mail
from server.mail.pictures import add_picture, describe_picture

from .house import House

HELLO = '<p>Hello {{ first_name | default: "there" }},</p>'
NIGHT, BRASS = "#1B2440", "#7A4E12"


def dress(house: House) -> None:
    """The house style, with its pictures; clicks are counted, and opens estimated."""
    for name, alt, draw in (
        ("Larkmoor", "Larkmoor Observatory", lambda: _logo(NIGHT, BRASS)),
        ("Larkmoor, light", "Larkmoor Observatory", lambda: _logo("#E8E6DF", "#E3BE7A")),
        ("Dome at dusk", "The white dome on the moor, its slit open, under the first stars", _dome),
        ("Half Moon", "The half Moon with its shadow line down the middle", _moon),
        ("Star trails", "Stars drawn into circles around the pole above a dark fence", _trails),
    ):
        out = io.BytesIO()
        draw().save(out, "PNG")
        row = add_picture(house.workspace, name, out.getvalue(), house.member)
        house.pictures[name] = str(describe_picture(row, name, alt).pk)
    set_mail(
        house.workspace,
        style=HouseStyle(
            logo=house.pictures["Larkmoor"],
            dark_logo=house.pictures["Larkmoor, light"],
            logo_width=180,
            light=Colours(
                paper="#ECEEF3", sheet="#FFFFFF", ink="#22262E", accent=NIGHT, rule="#D5D9E3"
            ),
            dark=Colours(
                paper="#0F1320", sheet="#171C2E", ink="#E8E6DF", accent="#E3BE7A", rule="#343B55"
            ),
            face="book",
            width=600,
            footer="The dome is open on the first and third Friday, from dusk.",
            links=(
                StyleLink(label="How to get here", link=f"{house.outside}/larkmoor/plan-a-visit/"),
                StyleLink(label="The shop", link=f"{house.outside}/larkmoor/shop/"),
            ),
        ),
        language="en",
        reply_to="",
        counts_opens=True,
        counts_clicks=True,
        hourly_emails=None,
        hourly_per_domain=None,
        warms_up_from=None,
    )


def guide(house: House) -> tuple[Block | str, ...]:
    """The promised guide."""
    return (
        HeadingBlock(id="h", text="Here is your guide", level=1),
        f"{HELLO}<p>twelve pages for before you buy anything. Read it with a cup of tea; the stars wait.</p>",
        ButtonBlock(
            id="go", label="Open the guide", link=f"{house.outside}/larkmoor/first-telescope-guide/"
        ),
        PictureBlock(id="moon", picture=house.pictures["Half Moon"], share=70),
        HeadingBlock(id="h2", text="One thing to do tonight"),
        "<p>Find the Moon, and look along its shadow line with whatever glass you have. The "
        "craters there stand up like thumbs.</p>",
        "<p>Clear skies,<br>Noor at Larkmoor</p>",
    )


def which_fits(house: House) -> tuple[Block | str, ...]:
    """Three questions, and columns."""
    clicked = Group(of=(HappenedTest(what="clicked", within_hours=24 * 30),))
    return (
        f"{HELLO}<p>three questions settle it{{% if interest %}}, and you have answered one: you look at "
        "{{ interest }}{% endif %}.</p>",
        ColumnsBlock(
            id="three",
            columns=(
                Column(
                    id="c1",
                    blocks=(
                        HeadingBlock(id="q1", text="Where?", level=3),
                        TextBlock(
                            id="a1",
                            html="<p>Town roofs ask for a long tube, moors for a wide one.</p>",
                        ),
                    ),
                ),
                Column(
                    id="c2",
                    blocks=(
                        HeadingBlock(id="q2", text="How far?", level=3),
                        TextBlock(id="a2", html="<p>What you cannot carry stays in the hall.</p>"),
                    ),
                ),
                Column(
                    id="c3",
                    blocks=(
                        HeadingBlock(id="q3", text="To see what?", level=3),
                        TextBlock(
                            id="a3", html="<p>Planets want glass, galaxies want darkness.</p>"
                        ),
                    ),
                ),
            ),
        ),
        TextBlock(
            id="read",
            html="<p>You have opened the guide already: page seven has the table.</p>",
            only=clicked,
        ),
        ButtonBlock(
            id="shop",
            label="Look at the three we would buy",
            link=f"{house.outside}/larkmoor/shop/",
        ),
        "<p>Or write back with your answers, and we tell you what fits.</p><p>Noor</p>",
    )


def open_night(house: House) -> tuple[Block | str, ...]:
    """The invitation."""
    return (
        PictureBlock(id="dome", picture=house.pictures["Dome at dusk"]),
        HeadingBlock(id="h", text="Look through ours on Friday", level=1),
        "<p>Hello {{ first_name }},</p><p>on Friday the dome is open. Try three telescopes in one "
        "evening, and ask us anything.</p>",
        QuotationBlock(
            id="q",
            html="<p>I came to buy, and went home knowing why I should wait a month.</p>",
            by="Oona, visitor in March",
        ),
        ButtonBlock(
            id="come", label="Say that you come", link=f"{house.outside}/larkmoor/plan-a-visit/"
        ),
        "<p>Noor</p>",
    )


def letter(house: House, subject: str, words: str, page: str = "") -> tuple[Block | str, ...]:
    """One of the shorter letters; `page`: what its button leads to."""
    asks: tuple[Block, ...] = (
        ButtonBlock(id="act", label="Choose a day", link=f"{house.outside}/larkmoor/choose-a-day/"),
    )
    more: tuple[Block, ...] = (
        ButtonBlock(id="act", label="Read on", link=f"{house.outside}/larkmoor/open-night-news/"),
    )
    return (
        HeadingBlock(id="h", text=subject),
        f"{HELLO}<p>{words}. It takes no more than a clear evening, and it is all on one page.</p>",
        *(asks if page else more),
        "<p>Clear skies,<br>Noor</p>",
    )


def promised(house: House, name: str, words: str, *, with_file: bool) -> tuple[Block | str, ...]:
    """What somebody asked for: a file, or a page."""
    page = f"{house.outside}/larkmoor/star-photos-sheet/"
    return (
        HeadingBlock(id="h", text=f"{name}, as promised", level=1),
        f"{HELLO}<p>{words}.</p>",
        FileBlock(id="file", label="Open the calendar")
        if with_file
        else ButtonBlock(id="go", label="Open the starter sheet", link=page),
        PictureBlock(id="trails", picture=house.pictures["Star trails"], share=80),
        DividerBlock(id="d"),
        "<p>Clear skies,<br>Noor</p>",
    )


def _sky(width: int, height: int, seed: int) -> tuple[Image.Image, ImageDraw.ImageDraw]:
    image = Image.new("RGB", (width, height))
    draw = ImageDraw.Draw(image)
    for y in range(height):
        share = y / height
        draw.line(
            (0, y, width, y),
            fill=(int(16 + 60 * share), int(22 + 52 * share), int(52 + 60 * share)),
        )
    chance = random.Random(seed)
    for _ in range(220):
        x, y = chance.randrange(width), chance.randrange(int(height * 0.8))
        size = chance.choice((1, 1, 2, 3))
        draw.ellipse((x, y, x + size, y + size), fill="#F3E9C8")
    return image, draw


def _logo(dome: str, name: str) -> Image.Image:
    image = Image.new("RGBA", (720, 160), (0, 0, 0, 0))
    draw = ImageDraw.Draw(image)
    draw.pieslice((20, 20, 220, 220), 180, 360, fill=dome)
    draw.polygon([(112, 24), (140, 24), (128, 120), (116, 120)], fill="#E3BE7A")
    draw.rectangle((10, 120, 230, 140), fill=dome)
    draw.text((262, 34), "Larkmoor", fill=name, font=ImageFont.load_default(76))
    return image


def _dome() -> Image.Image:
    image, draw = _sky(1500, 760, 3)
    draw.rectangle((0, 620, 1500, 760), fill="#20281F")
    draw.pieslice((560, 300, 940, 680), 180, 360, fill="#E9E7E0")
    draw.rectangle((540, 490, 960, 640), fill="#D8D5CB")
    draw.polygon([(730, 304), (790, 304), (778, 488), (742, 488)], fill="#141A30")
    return image


def _moon() -> Image.Image:
    image, draw = _sky(1500, 800, 5)
    draw.ellipse((450, 100, 1050, 700), fill="#2A3152")
    draw.pieslice((450, 100, 1050, 700), 90, 270, fill="#EFE8D2")
    chance = random.Random(7)
    for _ in range(26):
        x, y, size = (
            chance.randrange(520, 740),
            chance.randrange(190, 600),
            chance.randrange(14, 52),
        )
        draw.ellipse((x, y, x + size, y + size), fill="#D8D0B8")
    return image


def _trails() -> Image.Image:
    image, draw = _sky(1500, 760, 11)
    chance = random.Random(13)
    for radius in range(60, 1100, 26):
        start = chance.randrange(360)
        box = (750 - radius, 300 - radius, 750 + radius, 300 + radius)
        draw.arc(box, start, start + chance.randrange(40, 90), fill="#C9CFE6", width=2)
    draw.rectangle((0, 640, 1500, 760), fill="#0B0E18")
    for x in range(40, 1500, 120):
        draw.rectangle((x, 560, x + 16, 700), fill="#0B0E18")
    return image
