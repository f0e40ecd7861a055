"""OAuth 2.0 of the pipeline and the courses: Authlib's server, with codes, clients and tokens in the store.

Authorisation codes with PKCE, refresh tokens (the pipeline), client credentials (the courses).
"""

import time
from typing import Any

from authlib.integrations.django_oauth2 import AuthorizationServer
from authlib.oauth2 import OAuth2Error
from authlib.oauth2.rfc6749 import grants
from authlib.oauth2.rfc6749.models import AuthorizationCodeMixin, ClientMixin
from authlib.oauth2.rfc7636 import CodeChallenge
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.csrf import csrf_exempt

from .store import Store

store = Store("oauth")
CLIENTS = {
    "larkmoor-pipeline": {
        "secret": "demo-pipeline-secret",
        "grants": ["authorization_code", "refresh_token"],
    },
    "larkmoor-courses": {"secret": "demo-courses-secret", "grants": ["client_credentials"]},
}
LASTS = 3600


class Client(ClientMixin):
    """A program that may sign in. The demo's takes any way back, as it moves between ports."""

    def __init__(self, pk: str) -> None:
        self.client_id = pk
        self.of = CLIENTS[pk]

    def get_client_id(self) -> str:
        return self.client_id

    def get_default_redirect_uri(self) -> str:
        return ""

    def get_allowed_scope(self, scope: Any) -> str:
        return str(scope or "")

    def check_redirect_uri(self, redirect_uri: str) -> bool:
        return redirect_uri.startswith("http")

    def check_client_secret(self, client_secret: str) -> bool:
        return bool(client_secret == self.of["secret"])

    def check_endpoint_auth_method(self, method: str, endpoint: str) -> bool:
        return method in ("client_secret_basic", "client_secret_post")

    def check_response_type(self, response_type: str) -> bool:
        return response_type == "code"

    def check_grant_type(self, grant_type: str) -> bool:
        return grant_type in self.of["grants"]


class Code(AuthorizationCodeMixin):
    """A code that is exchanged for tokens, once, within five minutes."""

    def __init__(self, row: dict[str, Any]) -> None:
        self.row = row
        self.code_challenge = row["challenge"]
        self.code_challenge_method = row["method"]

    def get_redirect_uri(self) -> str:
        return str(self.row["back"])

    def get_scope(self) -> str:
        return str(self.row["scope"])


class Token:
    """A token, as the grants look at it."""

    def __init__(self, row: dict[str, Any]) -> None:
        self.row = row

    def get_scope(self) -> str:
        return str(self.row.get("scope") or "")

    def check_client(self, client: Client) -> bool:
        return bool(self.row["client"] == client.client_id)


class CodeGrant(grants.AuthorizationCodeGrant):  # type: ignore[misc]
    """Codes in the store."""

    TOKEN_ENDPOINT_AUTH_METHODS = ["client_secret_basic", "client_secret_post"]

    def save_authorization_code(self, code: str, request: Any) -> None:
        data = request.payload.data
        store.put(
            "code",
            {
                "id": code,
                "client": request.client.client_id,
                "back": request.payload.redirect_uri,
                "scope": request.payload.scope or "",
                "challenge": data.get("code_challenge", ""),
                "method": data.get("code_challenge_method", "plain"),
                "at": time.time(),
            },
        )

    def query_authorization_code(self, code: str, client: Any) -> Code | None:
        row = store.get("code", code)
        fits = row and row["client"] == client.client_id and row["at"] > time.time() - 300
        return Code(row) if row and fits else None

    def delete_authorization_code(self, authorization_code: Code) -> None:
        store.remove("code", authorization_code.row["id"])

    def authenticate_user(self, authorization_code: Code) -> Any:
        return _User()


class RefreshGrant(grants.RefreshTokenGrant):  # type: ignore[misc]
    """Refresh tokens in the store, each good once."""

    TOKEN_ENDPOINT_AUTH_METHODS = ["client_secret_basic", "client_secret_post"]
    INCLUDE_NEW_REFRESH_TOKEN = True

    def authenticate_refresh_token(self, refresh_token: str) -> Any:
        row = store.find("token", f"refresh {refresh_token}")
        return Token(row) if row else None

    def authenticate_user(self, refresh_token: Token) -> Any:
        return _User()

    def revoke_old_credential(self, refresh_token: Any) -> None:
        store.remove("token", refresh_token.row["id"])


class _User:
    pk = "larkmoor"


class _Server(AuthorizationServer):  # type: ignore[misc]
    def __init__(self) -> None:
        super().__init__(None, None)
        self.register_grant(CodeGrant, [CodeChallenge(required=True)])
        self.register_grant(RefreshGrant)
        self.register_grant(grants.ClientCredentialsGrant)

    def load_config(self, config: dict[str, Any]) -> None:
        config = {
            "refresh_token_generator": True,
            "token_expires_in": {"authorization_code": LASTS},
        }
        super().load_config(config)

    def query_client(self, client_id: str) -> Any:
        return Client(client_id) if client_id in CLIENTS else None

    def save_token(self, token: dict[str, Any], request: Any) -> None:
        refresh = token.get("refresh_token")
        row = {
            "id": token["access_token"],
            "client": request.client.client_id,
            "scope": token.get("scope", ""),
            "ends": time.time() + token.get("expires_in", LASTS),
            "at": time.time(),
        }
        store.put("token", row, f"refresh {refresh}" if refresh else "")


server = _Server()


@csrf_exempt
def agree(request: HttpRequest) -> Any:
    """The page on which a member agrees."""
    if request.method == "GET":
        try:
            grant = server.get_consent_grant(request, end_user=_User())
        except OAuth2Error as error:
            return HttpResponse(error.description or error.error, status=400)
        context = {"client": grant.client.client_id, "query": request.META["QUERY_STRING"]}
        return render(request, "services/agree.html", context)
    user = _User() if request.POST.get("do") == "agree" else None
    grant = server.get_consent_grant(request, end_user=user)
    return server.create_authorization_response(request, grant_user=user, grant=grant)


@csrf_exempt
def token(request: HttpRequest) -> Any:
    """Codes, refresh tokens and client credentials become tokens."""
    return server.create_token_response(request)


def is_signed_in(request: HttpRequest) -> bool:
    """Whether the token of a request is good. Those from before the mood `expired` are not."""
    sent = request.headers.get("Authorization", "").removeprefix("Bearer ")
    row = store.get("token", sent) if sent else None
    if row is None or row["ends"] < time.time():
        return False
    ended = store.get("ended", "ended")
    return ended is None or bool(row["at"] > ended["at"])


def end_tokens() -> None:
    """All tokens that are out end now."""
    store.put("ended", {"id": "ended", "at": time.time()})
