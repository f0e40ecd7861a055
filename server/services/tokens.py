"""OAuth 2.0: tokens of a connection, got and renewed by Authlib."""

import secrets as random
import time
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import httpx
from django.db import transaction

from core.services import ClientSignIn, CodeSignIn, ServiceDescription
from server.workspaces.reaching import NotReachable, PublicTransport
from server.workspaces.shapes import Json

from .models import Service
from .secrets import keep_secrets, secrets_of

_EARLY = 30
"""Seconds before its end in which a token is renewed."""
_SECONDS = 20.0


class SignInFailed(httpx.HTTPError):
    """The service gives no token."""


def access_token(service: Service, secrets: Json) -> str:
    """A token that is good for now; renewed by one worker at a time, and stored.

    Raises `SignInFailed` where the service gives none.
    """
    if _is_good(secrets):
        return str(secrets["access_token"])
    with transaction.atomic():
        row = Service.everywhere.select_for_update(no_key=True).get(pk=service.pk)
        kept = secrets_of(row)
        if not _is_good(kept):
            kept |= _renewed(row, kept)
            keep_secrets(row, kept)
            row.save(update_fields=["secret"])
    secrets.update(kept)
    return str(secrets["access_token"])


def forget_token(service: Service, secrets: Json) -> None:
    """The service refuses the token before its time: the next request gets another one."""
    with transaction.atomic():
        row = Service.everywhere.select_for_update(no_key=True).get(pk=service.pk)
        kept = secrets_of(row)
        if kept.get("access_token") == secrets.get("access_token"):
            kept.pop("access_token", None)
            keep_secrets(row, kept)
            row.save(update_fields=["secret"])
    secrets.clear()
    secrets.update(kept)


def _is_good(secrets: Json) -> bool:
    ends = secrets.get("expires_at")
    return bool(secrets.get("access_token")) and (ends is None or ends - _EARLY > time.time())


def _renewed(service: Service, secrets: Json) -> Json:
    described = ServiceDescription.model_validate(service.description)
    sign_in = described.sign_in
    with _client(secrets) as client, _named_failures():
        if isinstance(sign_in, ClientSignIn):
            token = client.fetch_token(
                address(described, sign_in.token_at), grant_type="client_credentials"
            )
        elif isinstance(sign_in, CodeSignIn) and secrets.get("refresh_token"):
            token = client.refresh_token(
                address(described, sign_in.token_at), refresh_token=secrets["refresh_token"]
            )
        else:
            raise SignInFailed("Nobody is signed in over there yet. Press “Sign in over there”.")
        return _of(token)


@contextmanager
def _named_failures() -> Iterator[None]:
    """Whatever goes wrong with asking for a token is `SignInFailed`, in words: another address, an answer that is
    none of OAuth, a moment that is no number."""
    try:
        yield
    except SignInFailed:
        raise
    except httpx.HTTPError as error:
        reason = str(error) if isinstance(error, NotReachable) else type(error).__name__
        raise SignInFailed(
            f"The service gives no token: it cannot be reached ({reason})."
        ) from error
    except (_oauth_error(), ValueError, TypeError, LookupError, AttributeError) as error:
        raise SignInFailed(f"The service gives no token: {str(error)[:200]}") from error


def begin(service: Service, back: str) -> str:
    """Where a member agrees; what is needed when they come back is kept in the row (PKCE, RFC 7636)."""
    described = ServiceDescription.model_validate(service.description)
    sign_in = described.sign_in
    assert isinstance(sign_in, CodeSignIn)
    secrets = secrets_of(service)
    verifier = random.token_urlsafe(48)
    with _client(secrets) as client:
        client.scope = " ".join(sign_in.scopes) or None
        client.redirect_uri = back
        at, state = client.create_authorization_url(
            address(described, sign_in.agree_at), code_verifier=verifier
        )
    keep_secrets(service, {**secrets, "verifier": verifier, "state": state, "back": back})
    service.save(update_fields=["secret"])
    return str(at)


def finish(service: Service, code: str, state: str) -> None:
    """The member agreed: the code becomes tokens. Raises `SignInFailed`."""
    described = ServiceDescription.model_validate(service.description)
    sign_in = described.sign_in
    assert isinstance(sign_in, CodeSignIn)
    secrets = secrets_of(service)
    expected = str(secrets.get("state") or "").encode()
    if not expected or not random.compare_digest(expected, state.encode(errors="replace")):
        raise SignInFailed("This answer does not belong to a sign-in that began here.")
    with _client(secrets) as client, _named_failures():
        client.redirect_uri = secrets["back"]
        token = _of(
            client.fetch_token(
                address(described, sign_in.token_at),
                grant_type="authorization_code",
                code=code,
                code_verifier=secrets["verifier"],
            )
        )
    for name in ("verifier", "state", "back"):
        secrets.pop(name, None)
    keep_secrets(service, {**secrets, **token})
    service.save(update_fields=["secret"])


def address(described: ServiceDescription, at: str) -> str:
    """An address of the description: whole, or a path below the base."""
    return described.base.rstrip("/") + at if at.startswith("/") else at


def _oauth_error() -> type[Exception]:
    from authlib.integrations.base_client import OAuthError

    return OAuthError


def _client(secrets: Json) -> Any:
    """Authlib's client. Loaded where it is needed: it takes a fifth of a second, which every worker would
    wait for."""
    with warnings.catch_warnings():
        # It wishes for a successor of httpx that nothing else here uses, and says so always.
        import authlib.deprecate  # noqa: F401

        warnings.simplefilter("ignore")
        from authlib.integrations.httpx_client import OAuth2Client

    return OAuth2Client(
        client_id=secrets.get("client_id", ""),
        client_secret=secrets.get("client_secret", ""),
        code_challenge_method="S256",
        transport=PublicTransport(),
        timeout=_SECONDS,
        follow_redirects=False,
        trust_env=False,
    )


def _of(token: Json) -> Json:
    found = {name: token[name] for name in ("access_token", "refresh_token") if token.get(name)}
    if "access_token" not in found:
        raise SignInFailed("The answer of the service holds no token.")
    ends = token.get("expires_at")
    return {**found, "expires_at": int(ends)} if ends else found
