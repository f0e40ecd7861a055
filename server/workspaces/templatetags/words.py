"""Fixed texts of public pages, in the words of the source or list that shows them."""

from django import template

from server.workspaces.languages import translated

register = template.Library()


@register.simple_tag
def say(text: str, **values: object) -> str:
    """A fixed text, its values filled in; escaped, since a member may have written it."""
    # A literal of a template counts as safe; what takes its place does not.
    own = str(translated(text[:]))
    return own % values if values else own
