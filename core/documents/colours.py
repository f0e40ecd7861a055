"""Contrast of colours, as WCAG 2.2 defines it (1.4.3, relative luminance)."""

LEAST_FOR_TEXT = 4.5
"""Level AA, for text of ordinary size (WCAG 2.2, success criterion 1.4.3)."""


def contrast(one: str, other: str) -> float:
    """The contrast ratio of two colours, each #rrggbb: from 1 to 21."""
    lighter, darker = sorted((luminance(one), luminance(other)), reverse=True)
    return (lighter + 0.05) / (darker + 0.05)


def luminance(colour: str) -> float:
    """The relative luminance of #rrggbb, from 0 (black) to 1 (white)."""
    red, green, blue = (_linear(int(colour[at : at + 2], 16) / 255) for at in (1, 3, 5))
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def readable_on(colour: str) -> str:
    """Black or white, whichever reads better on `colour`."""
    return max(("#000000", "#FFFFFF"), key=lambda ink: contrast(ink, colour))


def _linear(part: float) -> float:
    return float(part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4)
