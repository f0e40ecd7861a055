"""What hangs together with a sequence: forms that lead into it, emails that it sends, turned on together."""

from django.test import TestCase

from core.deciding import AddTags, RouteDocument, StartSequence
from core.sequences import Lane, SendStep, SequenceDocument
from server.mail.editing import save_message
from server.mail.models import Message, live_document, shown_document
from server.routes.path import (
    lead_in_by_new_form,
    lead_into,
    lead_no_more,
    path_of,
    turn_on_path,
)
from server.sequences.actions import make_sequence, save_sequence_draft
from server.sequences.models import Sequence
from server.sources.actions import shown_revision
from server.sources.models import Source
from server.workspaces.documents import draft_of, live_of
from server.workspaces.errors import Refused
from tests.world import make_world


class Path(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.sequence = make_sequence(self.world.workspace, "Welcome")
        self.write(self.world.guide)

    def write(self, message: Message, list_id: str | None = None) -> None:
        steps = (SendStep(id="s1", message=str(message.pk)),)
        document = SequenceDocument(
            list=list_id or str(self.world.news.pk), lanes=(Lane(id="la", steps=steps),)
        )
        save_sequence_draft(self.sequence, document, None, None)

    def rules(self, source: Source) -> list[str]:
        document = RouteDocument.model_validate(shown_revision(source).document)
        return [rule.action.kind for rule in document.then]

    def starts(self, source: Source) -> list[StartSequence]:
        document = RouteDocument.model_validate(shown_revision(source).document)
        actions = (rule.action for rule in document.then)
        return [
            one
            for one in actions
            if isinstance(one, StartSequence) and one.sequence == str(self.sequence.pk)
        ]

    def test_a_source_leads_in_once_and_keeps_what_it_does(self) -> None:
        source = self.world.source
        before = self.rules(source)
        live = live_of(source.revisions.all())
        assert live is not None
        for _ in range(2):
            lead_into(source, self.sequence, "la", None)
        self.assertEqual(self.rules(source), [*before, "start_sequence"])
        # The first lane is the same, named or not.
        lead_into(source, self.sequence, None, None)
        self.assertEqual(self.rules(source), [*before, "start_sequence"])
        # What is live stays as it is until it is turned on.
        again = live_of(source.revisions.all())
        assert again is not None
        self.assertEqual(again.document, live.document)
        lead_no_more(source, self.sequence, "la", None)
        self.assertEqual(self.rules(source), before)

    def test_a_new_form_is_made_and_turned_on_together(self) -> None:
        form = lead_in_by_new_form(self.sequence, "Night guide", "la", "", None)
        self.assertEqual([one.lane for one in self.starts(form)], ["la"])
        (part,) = path_of(self.sequence).parts
        self.assertEqual((part.kind, part.id, part.name), ("source", form.pk, "Night guide"))
        # That the sequence is not live yet is no problem of the two together.
        self.assertNotIn("sequence_not_live", [one.code for one in part.findings])
        self.assertFalse([one for one in part.findings if one.stops])
        self.assertTrue(part.first)
        turn_on_path(self.sequence, [(form, part.edits)], None)
        form.refresh_from_db()
        self.sequence.refresh_from_db()
        self.assertEqual((form.state, self.sequence.state), ("live", "live"))
        self.assertEqual(path_of(self.sequence).parts, [])

    def test_a_new_form_subscribes_by_what_people_read(self) -> None:
        form = lead_in_by_new_form(self.sequence, "Night guide", "la", "You get News too.", None)
        document = RouteDocument.model_validate(shown_revision(form).document)
        [line] = document.consent
        self.assertEqual((line.list, line.wording), (str(self.world.news.pk), "You get News too."))

    def test_what_stops_one_of_them_stops_them_all(self) -> None:
        form = lead_in_by_new_form(self.sequence, "Night guide", "la", "", None)
        document = RouteDocument.model_validate(shown_revision(form).document)
        rule = document.then[0].model_copy(
            update={"id": "t9", "action": AddTags(tags=("no such tag",))}
        )
        broken = document.model_copy(update={"then": (*document.then, rule)})
        revision = shown_revision(form)
        revision.document = broken.model_dump(mode="json")
        revision.save(update_fields=["document"])
        with self.assertRaises(Refused) as caught:
            turn_on_path(self.sequence, [(form, revision.edits)], None)
        self.assertIn("Night guide", caught.exception.problems[0].sentence)
        self.sequence.refresh_from_db()
        form.refresh_from_db()
        self.assertEqual((self.sequence.state, form.state), ("draft", "draft"))
        self.assertIsNone(live_of(self.sequence.revisions.all()))

    def test_an_email_with_changes_is_part_of_it(self) -> None:
        turn_on_path(self.sequence, [], None)
        self.assertEqual(Sequence.everywhere.get(pk=self.sequence.pk).state, "live")
        message = self.world.guide
        changed = shown_document(message).model_copy(update={"subject": "Changed"})
        save_message(message, changed, None, None)
        self.assertNotEqual(live_document(message).subject, "Changed")
        (part,) = path_of(self.sequence).parts
        self.assertEqual((part.kind, part.id, part.first), ("message", message.pk, False))
        turn_on_path(self.sequence, [(message, part.edits)], None)
        self.assertEqual(live_document(message).subject, "Changed")
        self.assertIsNone(draft_of(message.revisions.all()))

    def test_what_somebody_changed_meanwhile_is_not_turned_on(self) -> None:
        form = lead_in_by_new_form(self.sequence, "Night guide", "la", "", None)
        (part,) = path_of(self.sequence).parts
        lead_into(form, self.sequence, "lb", None)
        with self.assertRaises(Refused):
            turn_on_path(self.sequence, [(form, part.edits)], None)
        self.sequence.refresh_from_db()
        self.assertEqual(self.sequence.state, "draft")
