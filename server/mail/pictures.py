"""The picture library of messages: added, described, deleted, and served for mail programs."""

from functools import lru_cache
from pathlib import PurePosixPath
from secrets import token_hex
from typing import cast
from uuid import UUID

from django.conf import settings

from core.messages import HouseStyle, PictureFacts, Pixels
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import Refused
from server.workspaces.history import changes
from server.workspaces.images import read_picture, written
from server.workspaces.models import Member, Workspace

from .models import LibraryPicture, MessageRevision

WIDEST = 760
"""CSS pixels: the widest letter. Sharp screens get up to twice as many."""


@changes("added the picture “{name}”")
def add_picture(
    workspace: Workspace, name: str, content: bytes, member: Member | None
) -> LibraryPicture:
    """Keep a PNG, JPEG or WebP, written anew in two sizes."""
    image = read_picture(content)
    sharp, content_type, wide, _ = written(image, 2 * WIDEST)
    # A picture is shown at half its pixels, so that sharp screens have twice as many.
    small, _, width, height = written(image, max(1, min(WIDEST, wide // 2 if wide > 400 else wide)))
    plain = PurePosixPath(name.replace("\\", "/")).stem
    row = LibraryPicture.everywhere.create(
        workspace=workspace,
        key=token_hex(12),
        name=" ".join(plain.split())[:120] or "picture",
        content_type=content_type,
        content=small,
        sharp=sharp,
        width=width,
        height=height,
        size=len(small) + len(sharp),
        member=member,
        added_at=clock.now(workspace),
    )
    catalogue_changed(workspace)
    return row


@changes("changed the picture “{picture.name}”")
def describe_picture(picture: LibraryPicture, name: str, alt: str) -> LibraryPicture:
    """Name a picture, and say what it shows."""
    picture.name = " ".join(name.split())[:120] or picture.name
    picture.alt = " ".join(alt.split())[:300]
    picture.save(update_fields=["name", "alt"])
    catalogue_changed(picture.workspace)
    return picture


@changes("deleted the picture “{picture.name}”")
def delete_picture(picture: LibraryPicture) -> None:
    """Delete a picture that no message has or had: emails that went out still show theirs."""
    used = users_of_picture(picture)
    if used:
        raise Refused(f"The picture is in {used}. Emails that went out would lose it.")
    catalogue_changed(picture.workspace)
    picture.delete()


def users_of_picture(picture: LibraryPicture) -> str:
    """What has the picture, in words; empty: nothing."""
    workspace = picture.workspace
    if str(picture.pk) in map(workspace.house_style.get, ("logo", "dark_logo")):
        return "the house style"
    revisions = MessageRevision.objects.of(workspace).filter(document__icontains=str(picture.pk))
    row = revisions.select_related("message").first()
    return f"“{row.message.name}”" if row else ""


def pictures_of(workspace: Workspace) -> dict[str, PictureFacts]:
    """The pictures of a workspace by id, as of its latest change."""
    return _pictures(workspace.pk, workspace.catalogue_version)


@lru_cache(maxsize=128)
def _pictures(workspace_id: UUID, version: UUID) -> dict[str, PictureFacts]:
    rows = LibraryPicture.objects.of(Workspace(pk=workspace_id)).defer("content", "sharp")
    return {str(one.pk): facts_of(one) for one in rows.order_by("pk")}


def logo_pixels(workspace: Workspace, style: HouseStyle) -> dict[str, Pixels]:
    """What the logos of a house style are made of, by their ids."""
    known = pictures_of(workspace)
    return {one: _pixels(one) for one in (style.logo, style.dark_logo) if one in known}


@lru_cache(maxsize=128)
def _pixels(picture: str) -> Pixels:
    # A picture never changes; it may have been deleted just now.
    row = LibraryPicture.everywhere.filter(pk=picture).first()
    if row is None:
        return {}
    image = read_picture(bytes(row.content)).convert("RGBA")
    image.thumbnail((64, 64))
    # A few dozen colours say as much of it as some thousands do.
    colours = cast(
        "list[tuple[int, tuple[int, int, int, int]]]",
        image.quantize(32).convert("RGBA").getcolors() or [],
    )
    return {colour: count for count, colour in colours}


def facts_of(picture: LibraryPicture) -> PictureFacts:
    """A picture, for the core."""
    return PictureFacts(
        address=address_of(picture),
        sharp=address_of(picture, "2x"),
        width=picture.width,
        height=picture.height,
        alt=picture.alt,
    )


def address_of(picture: LibraryPicture, size: str = "1x") -> str:
    """Where a mail program loads it from."""
    ending = "png" if picture.content_type == "image/png" else "jpg"
    return f"{settings.PUBLIC_ADDRESS}/i/{picture.key}/{size}.{ending}"
