"""The beginning of a description, from an OpenAPI 3 document: where it is, how one signs in, and its
operations that change something. Whoever knows the service completes it."""

import re

from core.documents import folded
from core.services import (
    BasicSignIn,
    Call,
    ClientSignIn,
    CodeSignIn,
    Does,
    KeySignIn,
    NoSignIn,
    Operation,
    ServiceDescription,
    SignIn,
)
from server.workspaces.errors import refuse
from server.workspaces.shapes import Json

_CHANGES = ("post", "put", "patch", "delete")
_MOST = 60
_WORDS: tuple[tuple[str, Does], ...] = (
    ("unsubscribe", "unsubscribe"),
    ("subscribe", "subscribe"),
    ("deal", "make_deal"),
    ("enrol", "enrol"),
    ("row", "append_row"),
    ("event", "record_event"),
    ("tag", "tag"),
)


def from_openapi(document: Json) -> ServiceDescription:
    """A description with what the document says; refused where it is none of OpenAPI 3."""
    if not str(document.get("openapi", "")).startswith("3.") or not _of(document, "paths"):
        raise refuse(
            "not_openapi",
            "document",
            "This is no OpenAPI 3 document.",
            "Export it as JSON from the service's own documentation.",
        )
    servers = document.get("servers")
    first = servers[0] if isinstance(servers, list) and servers else {}
    base = str(first.get("url", "")) if isinstance(first, dict) else ""
    operations = [
        _operation(path, method, one)
        for path, methods in _of(document, "paths").items()
        if isinstance(methods, dict)
        for method, one in methods.items()
        if method in _CHANGES and isinstance(one, dict)
    ]
    info = _of(document, "info")
    return ServiceDescription(
        name=str(info.get("title", ""))[:80],
        about=str(info.get("description", ""))[:300],
        base=base[:2000],
        sign_in=_sign_in(document),
        operations=tuple(_distinct(operations[:_MOST])),
    )


def _operation(path: str, method: str, one: Json) -> Operation:
    sentence = str(one.get("summary") or one.get("operationId") or f"{method} {path}")[:80]
    words = folded(f"{sentence} {path}")
    does: Does = next((does for word, does in _WORDS if word in words), "save_person")
    if method == "delete":
        does = "erase"
    tokens = re.sub(r"\{\w*\}", "{{ id }}", path)
    return Operation(
        key=re.sub(r"\W+", "-", str(one.get("operationId") or sentence)).strip("-").lower()[:80]
        or method,
        does=does,
        label=sentence,
        call=Call(method=method.upper(), path=tokens, body=_body(one)),  # type: ignore[arg-type]
        marketing=does == "subscribe",
    )


def _body(one: Json) -> object:
    """A token for each property of its JSON body."""
    content = _of(_of(one, "requestBody"), "content")
    schema = _of(_of(content, "application/json"), "schema")
    properties = _of(schema, "properties")
    if not properties:
        return "{{ person }}" if content else None
    return {
        str(name): "{{ address }}" if folded(str(name)) == "email" else f"{{{{ person.{name} }}}}"
        for name in list(properties)[:60]
        if re.fullmatch(r"[A-Za-z_]\w*", str(name))
    }


def _sign_in(document: Json) -> SignIn:
    schemes = _of(_of(document, "components"), "securitySchemes")
    for scheme in schemes.values():
        if not isinstance(scheme, dict):
            continue
        match scheme.get("type"):
            case "apiKey" if scheme.get("in") in ("header", "query"):
                return KeySignIn(place=scheme["in"], name=str(scheme.get("name", ""))[:80])
            case "http" if scheme.get("scheme") == "basic":
                return BasicSignIn()
            case "http":
                return KeySignIn(before="Bearer ")
            case "oauth2":
                flows = _of(scheme, "flows")
                if code := _of(flows, "authorizationCode"):
                    return CodeSignIn(
                        agree_at=str(code.get("authorizationUrl", "")),
                        token_at=str(code.get("tokenUrl", "")),
                    )
                if client := _of(flows, "clientCredentials"):
                    return ClientSignIn(token_at=str(client.get("tokenUrl", "")))
    return NoSignIn()


def _distinct(operations: list[Operation]) -> list[Operation]:
    """Each with a key of its own."""
    seen: dict[str, int] = {}
    found = []
    for one in operations:
        seen[one.key] = seen.get(one.key, 0) + 1
        suffix = f"-{seen[one.key]}" if seen[one.key] > 1 else ""
        found.append(one.model_copy(update={"key": f"{one.key[:70]}{suffix}"}))
    return found


def _of(found: object, name: str) -> Json:
    inside = found.get(name) if isinstance(found, dict) else None
    return inside if isinstance(inside, dict) else {}
