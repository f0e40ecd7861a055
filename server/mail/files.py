"""Files that emails promise: kept, attached, or served by a signed link that runs out."""

from datetime import datetime, timedelta
from pathlib import PurePosixPath
from uuid import UUID

from django.conf import settings
from django.core import signing
from django.db import transaction
from django.db.models import Sum

from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.history import changes, who_acts
from server.workspaces.models import Workspace

from .models import Message, MessageFile, StoredFile

LARGEST = 20 * 2**20
MOST_ATTACHED = 8 * 2**20
"""Of all files attached to one message: larger emails are refused by many mail servers."""
LONGEST_DAYS = 365
_SALT = "yalla.file"
# What opens in an email program or a browser by itself can do harm there.
_REFUSED = {".exe", ".js", ".bat", ".cmd", ".com", ".scr", ".vbs", ".msi", ".jar", ".ps1", ".hta"}


@changes("gave the message “{message.name}” the file “{name}”")
def give_file(
    message: Message, name: str, content_type: str, content: bytes, attached: bool, days: int
) -> MessageFile:
    """Keep a file and put it into a message."""
    with transaction.atomic():
        file = keep_file(message.workspace, name, content_type, content)
        return put_file(message, file, attached=attached, days=days)


def keep_file(workspace: Workspace, name: str, content_type: str, content: bytes) -> StoredFile:
    """Keep a file, under its own name without a path."""
    plain = PurePosixPath(name.replace("\\", "/")).name
    plain = "".join(sign for sign in plain if sign.isprintable() and sign not in '"<>|:*?')[:120]
    if not plain.strip(" ."):
        raise refuse("no_name", "name", "The file has no name.", "Give it one, such as guide.pdf.")
    plain = plain.strip(" .")
    # Windows leaves out dots and spaces at the end of a name, and at the end of its parts.
    endings = {f".{part.strip().lower()}" for part in plain.split(".")[1:]}
    if endings & _REFUSED:
        raise refuse(
            "file_kind",
            "file",
            f"“{plain}” is a program, and mail servers refuse those.",
            "Attach a document, a picture or an archive.",
        )
    if not content or len(content) > LARGEST:
        raise refuse(
            "file_size",
            "file",
            "The file is empty." if not content else f"A file has at most {LARGEST // 2**20} MB.",
            "Choose another one, or make it smaller.",
        )
    known = content_type if len(content_type) <= 100 and "/" in content_type else ""
    return StoredFile.everywhere.create(
        workspace=workspace,
        name=plain,
        content_type=known or "application/octet-stream",
        size=len(content),
        content=content,
        member=who_acts(),
        added_at=clock.now(workspace),
    )


@changes("changed the file “{file.name}” of the message “{message.name}”")
def put_file(message: Message, file: StoredFile, *, attached: bool, days: int = 14) -> MessageFile:
    """Attach a file to a message, or have the message link to it (one file at the most)."""
    if not 1 <= days <= LONGEST_DAYS:
        raise refuse("days", "days", f"A link works for 1 to {LONGEST_DAYS} days.")
    with transaction.atomic():
        others = message.files.exclude(file=file).select_related("file")
        if attached:
            size = others.filter(attached=True).aggregate(size=Sum("file__size"))["size"] or 0
            if size + file.size > MOST_ATTACHED:
                raise refuse(
                    "file_size",
                    "file",
                    f"Attached files have at most {MOST_ATTACHED // 2**20} MB in total.",
                    "Let the message link to it instead.",
                )
        elif others.filter(attached=False).exists():
            raise refuse(
                "one_link",
                "file",
                "The message links to another file already.",
                "Take that one out, or attach this one.",
            )
        row, _ = MessageFile.everywhere.update_or_create(
            message=message,
            file=file,
            defaults={"workspace": message.workspace, "attached": attached, "days": days},
        )
    return row


@changes("took a file out of the message “{row.message.name}”")
def take_file(row: MessageFile) -> None:
    """Take a file out of a message; it goes for good when no message has it. Links to it end."""
    with transaction.atomic():
        file = row.file
        row.delete()
        if not file.messages.exists():
            file.delete()


def file_address(row: MessageFile, at: datetime) -> str:
    """The address that serves a linked file from `at` on, for its days."""
    token = signing.Signer(salt=_SALT).sign(f"{row.pk.hex}.{int(at.timestamp()):x}")
    return f"{settings.PUBLIC_ADDRESS}/d/{token}"


def read_file_token(token: str) -> tuple[MessageFile, bool] | None:
    """The file that a link names, and whether the link still works; None where there is none."""
    try:
        name, _, at = signing.Signer(salt=_SALT).unsign(token).partition(".")
        pk, made = UUID(name), int(at, 16)
    except (signing.BadSignature, ValueError):
        return None
    row = MessageFile.everywhere.select_related("file", "workspace").filter(pk=pk).first()
    if row is None:
        return None
    age = clock.now(row.workspace).timestamp() - made
    return row, age <= timedelta(days=row.days).total_seconds()
