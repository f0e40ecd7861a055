"""Messages: their document and its blocks, how they are laid out and written for their person,
and what comes back."""

from .blocks import (
    FOOTER_PARTS,
    Block,
    ButtonBlock,
    Column,
    ColumnsBlock,
    DividerBlock,
    FileBlock,
    FooterBlock,
    HeadingBlock,
    PictureBlock,
    PictureFacts,
    QuotationBlock,
    Source,
    SpaceBlock,
    TextBlock,
)
from .bounces import refuses_address
from .cleaning import clean_html
from .delivery import LEAST_TO_WARN, delivery_warnings
from .difference import changes_between
from .document import (
    MessageDocument,
    Parameter,
    every_block,
    hidden_from,
    simple_message,
    sources_of,
    with_html,
)
from .frame import Frame
from .layout import Filled, Template, fill, lay_out, mjml_of, plain_of
from .pace import allowed_within_hour
from .personal import TOO_COSTLY, Written, context_of, write
from .portable import (
    Incoming,
    as_eml,
    as_html,
    from_eml,
    from_html,
    from_mjml,
)
from .preflight import asks_to_confirm, check_document, check_size, links_to, needed
from .returned import LARGEST_RETURNED, Returned, ReturnedKind, read_returned
from .sending_dns import DnsLine, SendingFacts, looked_at, signs_well, wanted_lines
from .style import Colours, HouseStyle, StyleLink, check_style
from .tracking import (
    Judged,
    Touched,
    counted_links,
    judge,
    with_counters,
    with_parameters,
)

__all__ = [
    "FOOTER_PARTS",
    "LARGEST_RETURNED",
    "LEAST_TO_WARN",
    "TOO_COSTLY",
    "Block",
    "ButtonBlock",
    "Colours",
    "Column",
    "ColumnsBlock",
    "DividerBlock",
    "DnsLine",
    "FileBlock",
    "Filled",
    "FooterBlock",
    "Frame",
    "HeadingBlock",
    "HouseStyle",
    "Incoming",
    "Judged",
    "MessageDocument",
    "Parameter",
    "PictureBlock",
    "PictureFacts",
    "QuotationBlock",
    "Returned",
    "ReturnedKind",
    "SendingFacts",
    "Source",
    "SpaceBlock",
    "StyleLink",
    "Template",
    "TextBlock",
    "Touched",
    "Written",
    "allowed_within_hour",
    "as_eml",
    "as_html",
    "asks_to_confirm",
    "changes_between",
    "check_document",
    "check_size",
    "check_style",
    "clean_html",
    "context_of",
    "counted_links",
    "delivery_warnings",
    "every_block",
    "fill",
    "from_eml",
    "from_html",
    "from_mjml",
    "hidden_from",
    "judge",
    "lay_out",
    "links_to",
    "looked_at",
    "mjml_of",
    "needed",
    "plain_of",
    "read_returned",
    "refuses_address",
    "signs_well",
    "simple_message",
    "sources_of",
    "wanted_lines",
    "with_counters",
    "with_html",
    "with_parameters",
    "write",
]
