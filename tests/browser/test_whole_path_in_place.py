"""A path written in one place: forms that lead in, emails written in their steps, all turned on together."""

import re
from io import BytesIO

from docx import Document
from playwright.sync_api import FilePayload, Locator, expect

from core.deciding import RouteDocument, StartSequence
from core.messages import HeadingBlock, TextBlock
from core.sequences import SequenceDocument
from server.mail.models import Message, live_document
from server.sequences.models import Sequence
from server.sources.models import Source
from tests.browser.case import MemberCase

WORDING = "You also get Open-night news. You can unsubscribe at any time."
SERIES = """\
# Day 0: The first evening
Subject: Look up tonight

Look east at dusk.

# Not this one

Notes.

# Day 2: The second evening

Now look west.

# The third evening

Stay out.
"""
A_WHILE = 2000
"""For what should wait, in milliseconds."""
A_STEP_BACK = 1500
"""What is written without a pause of a second is undone together (`DraftSession`), in milliseconds."""

_HOLDS_BACK = """
const real = window.fetch;
window.hold = () => (window.held = new Promise((done) => (window.release = done)));
window.fetch = async (...what) => {
  if (/messages.*draft/.test(what[0].url ?? what[0])) await window.held;
  return real(...what);
};
"""
"""From `hold` to `release` no email is saved."""


def a_docx() -> bytes:
    """Two emails, as a word processor keeps them."""
    document, into = Document(), BytesIO()
    for day in ("Monday", "Tuesday"):
        document.add_heading(f"Look up on {day}", 1)
        document.add_paragraph("The sky is clear.")
    document.save(into)
    return into.getvalue()


class InPlace(MemberCase):
    def panel(self) -> Locator:
        """What is open beside the lanes."""
        return self.page.get_by_role("complementary").first

    def write(self, subject: str, text: str) -> None:
        """The email of the open step: its subject, and the letter wide over the sheet."""
        page = self.page
        email = self.panel().get_by_role("group", name="Email", exact=True)
        email.get_by_label("Subject", exact=True).fill(subject)
        email.get_by_role("button", name="Write the letter").click()
        letter = page.get_by_role("dialog")
        expect(letter.get_by_label("Subject", exact=True)).to_have_value(subject)
        letter.get_by_role("group", name=re.compile("^text 1")).click()
        page.keyboard.press("Control+a")
        page.keyboard.type(text)
        letter.get_by_role("button", name="Done").click()
        expect(letter).to_have_count(0)
        expect(email).to_contain_text(text)

    def begin(self) -> None:
        """A new sequence, with a list."""
        page = self.page
        page.goto(f"{self.at}/sequences")
        page.get_by_role("button", name="New sequence").click()
        page.get_by_label("What is it for?").fill("Moonrise")
        page.get_by_role("button", name="Create sequence").click()
        page.get_by_role("button", name=re.compile("^Emails of")).click()
        page.get_by_label("Its emails belong to the list").click()
        page.get_by_role("option", name="Open-night news").click()

    def first_email(self) -> None:
        """A step that sends a new message."""
        self.page.get_by_role("button", name="Add a step", exact=True).click()
        self.page.get_by_role("menuitem", name="Send an email").click()
        self.panel().get_by_role("button", name="Write a new email").click()

    def test_what_was_written_just_now_is_turned_on_too(self) -> None:
        page = self.page
        page.add_init_script(_HOLDS_BACK)
        self.begin()
        self.first_email()
        problems = page.get_by_role("button", name=re.compile("^Pre-flight: .*problem"))
        expect(problems).to_be_visible()
        self.write("The first evening", "Look east at dusk.")
        expect(problems).to_have_count(0)
        page.evaluate("void window.hold()")
        self.panel().get_by_label("Subject", exact=True).fill("The last word")
        page.get_by_role("button", name="Turn on", exact=True).click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Turn on", exact=True).click()
        page.wait_for_timeout(A_WHILE)
        workspace = self.world.workspace
        sequence = Sequence.objects.of(workspace).get(name="Moonrise")
        self.assertEqual(sequence.state, "draft")
        page.evaluate("window.release()")
        expect(dialog).to_have_count(0)
        expect(page.get_by_text("live", exact=True).first).to_be_visible()
        document = SequenceDocument.model_validate(sequence.revisions.get(state="live").document)
        [step] = document.lanes[0].steps
        assert step.kind == "send"
        message = Message.objects.of(workspace).get(pk=step.message)
        self.assertEqual(live_document(message).subject, "The last word")

    def test_two_emails_and_a_form_without_leaving_the_sequence(self) -> None:
        page = self.page
        self.begin()
        page.get_by_role("button", name="Add a door").click()
        page.get_by_role("menuitem", name="Somebody sends a form").click()
        page.get_by_label("What is it for?").fill("Moonrise form")
        agreed = page.get_by_label("What people read above the button, and agree to")
        expect(agreed).to_have_value(WORDING)
        page.get_by_role("button", name="Make the form").click()
        expect(page.get_by_role("link", name="Moonrise form")).to_be_visible()
        self.first_email()
        self.write("The first evening", "Look east at dusk.")
        # Undone here is the email: the step, and the sequence around it, stay.
        subject = self.panel().get_by_label("Subject", exact=True)
        page.wait_for_timeout(A_STEP_BACK)
        subject.fill("Another subject")
        subject.press("Control+z")
        expect(subject).to_have_value("The first evening")
        self.panel().get_by_role("button", name="Add the next email").click()
        expect(page.get_by_role("button", name=re.compile("^wait 1 day"))).to_be_visible()
        self.write("The second evening", "Now look west.")
        self.panel().get_by_role("button", name="Previous email").click()
        expect(self.panel().get_by_label("Subject", exact=True)).to_have_value("The first evening")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name="Turn on", exact=True).click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_label("“Moonrise form”, which starts this sequence")).to_be_checked()
        dialog.get_by_role("button", name="Turn on", exact=True).click()
        expect(dialog).to_have_count(0)
        expect(page.get_by_text("live", exact=True).first).to_be_visible()
        self.stored()

    def stored(self) -> None:
        workspace = self.world.workspace
        sequence = Sequence.objects.of(workspace).get(name="Moonrise")
        document = SequenceDocument.model_validate(sequence.revisions.get(state="live").document)
        first, wait, second = document.lanes[0].steps
        assert first.kind == "send" and wait.kind == "wait" and second.kind == "send"
        self.assertTrue(first.at_once)
        self.assertFalse(second.at_once)
        for step, subject, text in (
            (first, "The first evening", "Look east at dusk."),
            (second, "The second evening", "Now look west."),
        ):
            message = live_document(Message.objects.of(workspace).get(pk=step.message))
            self.assertEqual(message.subject, subject)
            words = [
                one.html if isinstance(one, TextBlock) else one.text
                for one in message.blocks
                if isinstance(one, TextBlock | HeadingBlock)
            ]
            self.assertIn(text, " ".join(words))
        form = Source.objects.of(workspace).get(name="Moonrise form")
        self.assertEqual(form.state, "live")
        route = RouteDocument.model_validate(form.revisions.get(state="live").document)
        [consent] = route.consent
        self.assertEqual((consent.list, consent.wording), (str(self.world.news.pk), WORDING))
        starts = [one.action for one in route.then if isinstance(one.action, StartSequence)]
        self.assertEqual([one.sequence for one in starts], [str(sequence.pk)])

    def test_a_series_that_was_written_elsewhere(self) -> None:
        page = self.page
        self.begin()
        page.get_by_role("button", name="Add emails from a text").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Paste the text").fill("nothing\n\n" + "x" * 10)
        dialog.get_by_role("button", name="Read the text").click()
        expect(dialog).to_contain_text("No heading was found")
        dialog.get_by_role("button", name="Back to the text").click()
        file = dialog.locator("input[type=file]")
        file.set_input_files(FilePayload(name="series.pdf", mimeType="", buffer=b"%PDF"))
        expect(dialog).to_contain_text("“series.pdf” cannot be read.")
        file.set_input_files(FilePayload(name="series.docx", mimeType="", buffer=a_docx()))
        expect(dialog).to_contain_text("Look up on Monday")
        dialog.get_by_role("button", name="Back to the text").click()
        dialog.get_by_label("Paste the text").fill(SERIES)
        dialog.get_by_role("button", name="Read the text").click()
        expect(dialog).to_contain_text("Look east at dusk.")
        dialog.get_by_label("Day", exact=True).last.fill("6")
        dialog.get_by_role("checkbox", name="Add “Not this one”").uncheck()
        dialog.get_by_role("button", name="Add 3 emails").click()
        expect(dialog).to_have_count(0)
        for words in ("wait 2 days", "wait 4 days"):
            expect(page.get_by_role("button", name=re.compile(f"^{words}"))).to_be_visible()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        sequence = Sequence.objects.of(self.world.workspace).get(name="Moonrise")
        document = SequenceDocument.model_validate(sequence.revisions.get().document)
        steps = document.lanes[0].steps
        self.assertEqual([one.kind for one in steps], ["send", "wait", "send", "wait", "send"])
        messages = Message.objects.of(self.world.workspace).in_bulk(
            [one.message for one in steps if one.kind == "send"]
        )
        self.assertEqual(
            {one.name for one in messages.values()},
            {"The first evening", "The second evening", "The third evening"},
        )
        # One step back takes the whole series out again.
        page.wait_for_timeout(A_STEP_BACK)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_role("button", name=re.compile("^wait 2 days"))).to_have_count(0)
