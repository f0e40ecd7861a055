"""The kinds of sources: each a module that holds what is particular to it, so that adding a kind is
adding one."""

from .base import SourceRules
from .file import File
from .form import OwnedForm
from .posted import Posted
from .sheet import Sheet
from .webhook import Webhook

KINDS: dict[str, SourceRules] = {
    one.kind: one for one in (OwnedForm(), Posted(), File(), Sheet(), Webhook())
}
"""What is particular to each kind, by its name."""

__all__ = ["KINDS", "SourceRules"]
