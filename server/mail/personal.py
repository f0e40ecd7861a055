"""What this room holds of people: what was sent to them, what they did with it, what came back."""

from server.workspaces.personal import holds_nobody, holds_people

from .models import (
    BroadcastPause,
    LibraryPicture,
    ListMail,
    Message,
    MessageFile,
    MessageRevision,
    Pace,
    ReplyMailbox,
    Returned,
    Send,
    SendingDomain,
    SendingHold,
    StoredFile,
    Touch,
)

holds_people(
    Send,
    erasing="goes with the person",
    merging="moves",
    moves=True,
    exporting="message, subject, state and time, when it was opened, clicked and came back",
    retention="as long as the person; its answers go after the workspace's retention time",
)
holds_people(
    Touch,
    erasing="goes with the email",
    merging="stays with the email",
    exporting="kind, link, time, and whether a program did it",
    retention="400 days",
)
holds_people(
    Returned,
    erasing="goes with the person",
    merging="moves",
    moves=True,
    exporting="kind, time and reason",
    retention="as long as the person",
)
holds_nobody(
    Message,
    MessageRevision,
    ListMail,
    MessageFile,
    StoredFile,
    LibraryPicture,
    why="content that members write",
)
holds_nobody(
    BroadcastPause, SendingDomain, SendingHold, Pace, ReplyMailbox, why="settings and counts"
)
