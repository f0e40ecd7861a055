"""A whole person: merging two, changing one by hand, what they see of their lists."""

from .by_hand import ByHand, change_by_hand, written
from .list_pages import ListPage, ListPages, check_pages
from .merging import Line, Merging, merge

__all__ = [
    "ByHand",
    "Line",
    "ListPage",
    "ListPages",
    "Merging",
    "change_by_hand",
    "check_pages",
    "merge",
    "written",
]
