"""The promised pages: a small PDF, drawn here."""

import calendar
import io

from PIL import Image, ImageDraw, ImageFont

_PAGE = (595, 842)
_NIGHTS = 29.53
"""Days from one new moon to the next."""


def calendar_pages(year: int = 2027) -> bytes:
    """Twelve pages, a month each, the nights about new moon marked as dark."""
    pages = []
    for month in range(1, 13):
        page = Image.new("RGB", _PAGE, "#12182b")
        draw = ImageDraw.Draw(page)
        title = f"{calendar.month_name[month]} {year}"
        draw.text((48, 60), title, fill="#f3e9c8", font=ImageFont.load_default(40))
        for week, days in enumerate(calendar.monthcalendar(year, month)):
            for column, day in enumerate(days):
                if day:
                    _night(draw, 48 + column * 72, 170 + week * 90, day, _age(month, day))
        pages.append(page)
    out = io.BytesIO()
    pages[0].save(out, "PDF", save_all=True, append_images=pages[1:])
    return out.getvalue()


def _age(month: int, day: int) -> float:
    """Days since new moon, roughly: enough for a calendar in a demo."""
    return ((month - 1) * 30.44 + day + 22) % _NIGHTS


def _night(draw: ImageDraw.ImageDraw, x: int, y: int, day: int, age: float) -> None:
    dark = age < 5 or age > _NIGHTS - 5
    draw.text((x, y), str(day), fill="#f3e9c8", font=ImageFont.load_default(20))
    draw.ellipse(
        (x, y + 30, x + 22, y + 52), outline="#8f9bbf", fill="#12182b" if dark else "#8f9bbf"
    )
