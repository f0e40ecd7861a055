"""What this room holds of people: what was sent to them."""

from server.workspaces.personal import holds_nobody, holds_people

from .models import ListMail, Message, MessageFile, Send, StoredFile

holds_people(
    Send,
    erasing="goes with the person",
    merging="moves",
    moves=True,
    exporting="message, subject, state and time",
    retention="as long as the person",
)
holds_nobody(Message, ListMail, MessageFile, StoredFile, why="content that members write")
