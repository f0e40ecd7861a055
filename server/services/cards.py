"""A person as a vCard (RFC 6350 by vobject's 3.0, RFC 2426, which every address book reads)."""

from server.workspaces.shapes import Json

_PLAIN = ("tel", "note", "bday", "url", "title", "org")
_STREET = ("street", "city", "region", "code", "country")


def card(properties: Json) -> bytes:
    """A card of properties by their names: `fn`, `email`, `given`, `family`, `uid`, an address by its
    parts, and more."""
    import vobject  # loaded where it is needed

    made = vobject.vCard()
    texts = {name: str(one) for name, one in properties.items() if one not in (None, "")}
    given, family = texts.get("given", ""), texts.get("family", "")
    made.add("n").value = vobject.vcard.Name(family=family, given=given)
    made.add("fn").value = (
        texts.get("fn") or f"{given} {family}".strip() or texts.get("email", "unnamed")
    )
    if "email" in texts:
        made.add("email").value = texts["email"]
    if "uid" in texts:
        made.add("uid").value = texts["uid"]
    for name in _PLAIN:
        if name in texts:
            made.add(name).value = [texts[name]] if name == "org" else texts[name]
    parts = {name: texts[f"address.{name}"] for name in _STREET if f"address.{name}" in texts}
    if parts:
        made.add("adr").value = vobject.vcard.Address(**parts)
    return bytes(made.serialize().encode())
