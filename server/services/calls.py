"""Speaking to a service: a request of its description, filled in, signed in, sent; and its answer."""

import hashlib
import json
import secrets
import time
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property
from typing import Any
from urllib.parse import urlencode

import httpx
from standardwebhooks import Webhook
from standardwebhooks.webhooks import EmptyWebhookSecretError

from core.documents import read_json
from core.services import (
    BasicSignIn,
    Call,
    ClientSignIn,
    CodeSignIn,
    KeySignIn,
    ServiceDescription,
    SignedSignIn,
    fill,
    fill_path,
    fill_text,
)
from server.workspaces.reaching import NotReachable, PublicTransport, text_of

from .cards import card
from .models import Service
from .secrets import secrets_of, without_secrets
from .tokens import SignInFailed, access_token

LARGEST = 5 * 2**20
"""Bytes of an answer."""
SECONDS = 20.0
KEPT = 4_000
"""Characters of a request and an answer that are kept."""


@dataclass(frozen=True)
class Answer:
    """What came back: a status with its JSON, or why nothing did."""

    status: int | None
    headers: Mapping[str, str]
    text: str
    json: object
    error: str = ""
    """Why no answer came, in words."""
    sent: bool = True
    """Whether the request may have reached the service."""
    request: str = ""
    seconds: float = 0.0


class Line:
    """A connection to a service that is kept open for many requests; made for one thread or several."""

    def __init__(self, service: Service, at_once: int = 1) -> None:
        self.service = service
        self._at_once = at_once
        self.described = ServiceDescription.model_validate(service.description)
        self.secrets = secrets_of(service)
        limits = httpx.Limits(max_connections=at_once, max_keepalive_connections=at_once)
        self._client = httpx.Client(
            transport=PublicTransport(limits=limits),
            timeout=httpx.Timeout(SECONDS, connect=10.0),
            follow_redirects=False,
            trust_env=False,
        )

    @cached_property
    def pool(self) -> ThreadPoolExecutor:
        """Threads for requests at the same time."""
        return ThreadPoolExecutor(self._at_once)

    def __enter__(self) -> "Line":
        return self

    def __exit__(self, *_: object) -> None:
        if "pool" in self.__dict__:
            self.pool.shutdown()
        self._client.close()

    def ask(self, call: Call, known: Mapping[str, object]) -> Answer:
        """Send a request with its tokens filled in."""
        base = self.described.base.rstrip("/")
        query = {name: fill_text(text, known) for name, text in call.query.items()}
        query = {name: text for name, text in query.items() if text}
        headers = {"Accept": "application/json", "User-Agent": "Yalla"}
        headers |= {name: fill_text(text, known) for name, text in call.headers.items()}
        if self.described.idempotency_header and known.get("key") and call.method != "GET":
            headers[self.described.idempotency_header] = str(known["key"])
        content = b""
        if call.body is not None:
            body = fill(call.body, known)
            kind, content = _written(call.format, body)
            headers.setdefault("Content-Type", kind)
        path = fill_path(call.path, known)
        request_text = f"{call.method} {path}{'?' + urlencode(query) if query else ''}"
        if content:
            request_text = f"{request_text}\n{content.decode(errors='replace')}"
        try:
            secret_query = self._sign_in(headers, content, str(known.get("key") or ""))
        except SignInFailed as error:
            return _nothing(f"Signing in failed: {error}", request_text, sent=False)
        except httpx.HTTPError as error:
            return _nothing(f"Signing in failed: {_reason(error)}", request_text, sent=False)
        except (EmptyWebhookSecretError, ValueError):
            return _nothing(
                "The request cannot be signed: check the secret.", request_text, sent=False
            )
        for name, text in headers.items():
            if "\n" in text or "\r" in text:
                return _nothing(
                    f"The header {name} would hold a line break.", request_text, sent=False
                )
        try:
            request = self._client.build_request(
                call.method,
                base + path,
                params={**query, **secret_query} or None,
                headers={name.encode(): text.encode() for name, text in headers.items()},
                content=content or None,
            )
        except (httpx.InvalidURL, ValueError, TypeError):
            return _nothing("The address of the service cannot be read.", request_text, sent=False)
        return self._send(request, without_secrets(request_text, self.secrets)[:KEPT])

    def _sign_in(self, headers: dict[str, str], content: bytes, key: str) -> dict[str, str]:
        """Put what signs in into the headers; what goes into the address is given back."""
        match self.described.sign_in:
            case KeySignIn(place="query", name=name):
                return {name: self.secrets.get("key", "")}
            case KeySignIn(name=name, before=before):
                headers[name] = before + self.secrets.get("key", "")
            case BasicSignIn():
                pair = httpx.BasicAuth(
                    self.secrets.get("name", ""), self.secrets.get("password", "")
                )
                headers["Authorization"] = pair._auth_header
            case SignedSignIn():
                headers |= _signature(self.secrets, content, key)
            case CodeSignIn() | ClientSignIn():
                headers["Authorization"] = f"Bearer {access_token(self.service, self.secrets)}"
        return {}

    def _send(self, request: httpx.Request, request_text: str) -> Answer:
        began = time.monotonic()
        try:
            response = self._client.send(request, stream=True)
            try:
                content = _read(response, began)
            finally:
                response.close()
        except NotReachable as error:
            return _nothing(str(error), request_text, sent=False)
        except (httpx.ConnectError, httpx.ConnectTimeout, httpx.PoolTimeout) as error:
            return _nothing(_reason(error), request_text, sent=False)
        except (httpx.HTTPError, httpx.InvalidURL, OSError, ValueError) as error:
            return _nothing(
                _reason(error), request_text, sent=True, seconds=time.monotonic() - began
            )
        text = text_of(response, content).replace("\x00", "�")
        wrong = ""
        if response.is_redirect:
            wrong = "The service leads to another address, which is not followed."
        parsed, json_error = _parsed(text, response.status_code)
        if self.described.answers == "any":
            json_error = ""
        return Answer(
            status=response.status_code,
            headers={name.lower(): one for name, one in response.headers.items()},
            text=without_secrets(text, self.secrets)[:KEPT],
            json=parsed,
            error=wrong or json_error,
            request=request_text,
            seconds=time.monotonic() - began,
        )


def _written(how: str, body: Any) -> tuple[str, bytes]:
    """A body and its type."""
    match how:
        case "form":
            return "application/x-www-form-urlencoded", urlencode(body, doseq=True).encode()
        case "vcard":
            return "text/vcard; charset=utf-8", card(body)
        case _:
            return "application/json", json.dumps(body, ensure_ascii=False).encode()


def _signature(own: Mapping[str, Any], content: bytes, key: str) -> dict[str, str]:
    """The headers of the Standard Webhooks specification; the same id at each try of a handoff. A secret
    that was replaced signs beside the new one for a while."""
    signing = [own.get("signing", "")]
    if own.get("signing_until", 0) > time.time():
        signing.append(own.get("signing_before", ""))
    named = hashlib.sha256((key or secrets.token_hex()).encode()).hexdigest()[:24]
    at = datetime.fromtimestamp(int(time.time()), UTC)
    signed = " ".join(
        Webhook(one).sign(f"msg_{named}", at, content.decode()) for one in signing if one
    )
    return {
        "webhook-id": f"msg_{named}",
        "webhook-timestamp": str(int(at.timestamp())),
        "webhook-signature": signed,
    }


class TooLarge(httpx.HTTPError):
    """An answer beyond all bounds."""


def _read(response: httpx.Response, began: float) -> bytes:
    found = bytearray()
    for piece in response.iter_bytes():
        found += piece
        if len(found) > LARGEST:
            raise TooLarge(f"the answer is larger than {LARGEST // 2**20} MB")
        if time.monotonic() - began > 3 * SECONDS:
            raise TooLarge("the answer does not come to an end")
    return bytes(found)


def _parsed(text: str, status: int) -> tuple[object, str]:
    if not text.strip():
        return None, ""
    try:
        return read_json(text), ""
    except ValueError:
        # An error may well be a page; a success that cannot be read is none.
        return None, "The answer is not JSON." if 200 <= status < 300 else ""


def _reason(error: Exception) -> str:
    match error:
        case TooLarge():
            return f"The answer was given up: {error}."
        case httpx.ConnectTimeout() | httpx.ConnectError():
            return "The service cannot be reached."
        case httpx.TimeoutException():
            return f"The service did not answer within {SECONDS:g} seconds."
        case httpx.RemoteProtocolError() | httpx.ReadError() | httpx.WriteError():
            return "The service ended the connection without an answer."
        case _:
            return f"The request failed: {type(error).__name__}."


def _nothing(why: str, request_text: str, *, sent: bool, seconds: float = 0.0) -> Answer:
    return Answer(
        status=None,
        headers={},
        text="",
        json=None,
        error=why,
        sent=sent,
        request=request_text[:KEPT],
        seconds=seconds,
    )
