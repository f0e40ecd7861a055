"""Telling Yalla: webhooks signed by the Standard Webhooks specification (https://www.standardwebhooks.com)."""

import json
import time
import uuid
from datetime import UTC, datetime
from typing import Any

import httpx
from standardwebhooks import Webhook

from .store import Store


def told_to(store: Store) -> dict[str, Any]:
    """Where the service tells, and what it signs with."""
    return store.get("hook", "hook") or {"id": "hook", "address": "", "secret": ""}


def tell(store: Store, kind: str, data: dict[str, Any]) -> dict[str, Any]:
    """Keep an event, and tell it; the event with what came of it."""
    event = {
        "id": f"evt_{uuid.uuid4().hex[:16]}",
        "type": kind,
        "timestamp": datetime.now(UTC).isoformat(timespec="seconds"),
        "data": data,
    }
    event["told"] = send(store, event)
    return store.put("event", event)


def send(store: Store, event: dict[str, Any]) -> str:
    """Send one event, once more where it was sent before; what came of it."""
    hook = told_to(store)
    if not hook["address"]:
        return "nobody is told"
    body = json.dumps({name: event[name] for name in ("id", "type", "timestamp", "data")})
    now = datetime.fromtimestamp(int(time.time()), UTC)
    headers = {"Content-Type": "application/json", "webhook-id": event["id"]}
    if hook["secret"]:
        headers["webhook-timestamp"] = str(int(now.timestamp()))
        headers["webhook-signature"] = Webhook(hook["secret"]).sign(event["id"], now, body)
    try:
        answer = httpx.post(hook["address"], content=body.encode(), headers=headers, timeout=10)
    except httpx.HTTPError as error:
        return f"not told: {type(error).__name__}"
    return f"told: {answer.status_code}"
