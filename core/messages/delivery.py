"""What receivers tolerate (common practice: complaints under 0.1 %, never 0.3 %; hard bounces under
2 %)."""

from collections.abc import Iterator

from ..documents import Finding

LEAST_TO_WARN = 100
"""Of fewer emails a rate says nothing."""
_COMPLAINTS_MANY, _COMPLAINTS_FAR_TOO_MANY = 0.001, 0.003
_BOUNCES_MANY = 0.02


def delivery_warnings(domain: str, sent: int, bounced: int, complained: int) -> Iterator[Finding]:
    """Rates above what receivers tolerate; `domain`: of which receivers, empty: of all."""
    if sent < LEAST_TO_WARN:
        return
    where = f" at {domain}" if domain else ""
    complaints, bounces = complained / sent, bounced / sent
    # One complaint alone is anybody's bad day, and no rate.
    if complaints >= _COMPLAINTS_MANY and complained > 1:
        far = complaints >= _COMPLAINTS_FAR_TOO_MANY
        yield Finding(
            code="complaints",
            place=domain,
            sentence=f"{complaints:.2%} of {sent:,} emails{where} were reported as spam; "
            + ("above 0.3 % receivers begin to refuse." if far else "stay under 0.1 %."),
            fix="Look at what those people signed up for, and make leaving easier to find.",
            stops=far,
        )
    if bounces >= _BOUNCES_MANY:
        yield Finding(
            code="bounces",
            place=domain,
            sentence=f"{bounces:.1%} of {sent:,} emails{where} came back; stay under 2 %.",
            fix="Look at where these addresses came from, and ask new people to confirm.",
            stops=False,
        )
