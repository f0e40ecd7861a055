"""Emails to members: what needs attention, what others turned on, many who enter or leave; once each."""

import json
from datetime import timedelta
from email import message_from_bytes
from typing import Any

from django.core import mail
from django.test import Client, TestCase, override_settings
from procrastinate.contrib.django.models import ProcrastinateJob

from core.deciding import RouteDocument
from server.notices.models import Notice
from server.notices.noticing import KEPT, forget, notice_all
from server.notices.writing import send
from server.routes.actions import turn_on
from server.sequences.going_on import advance_due_runs
from server.sequences.models import Run
from server.snags.actions import close, report
from server.snags.attention import attention_of
from server.snags.models import Snag
from server.sources.actions import make_source, save_route_draft, shown_revision
from server.workspaces import clock
from server.workspaces.history import acting
from server.workspaces.models import HistoryEntry, Member, Role
from tests.world import make_user, make_world


@override_settings(EMAIL_BACKEND="django.core.mail.backends.locmem.EmailBackend")
class Told(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.owner = self.world.member
        self.editor = self.member("ed@larkmoor.example", Role.EDITOR)
        self.reader = self.member("reader@larkmoor.example", Role.READER)
        # What the making of the world left.
        notice_all(self.world.workspace)
        ProcrastinateJob.objects.all().delete()

    def member(self, address: str, role: Role) -> Member:
        return Member.objects.create(
            workspace=self.world.workspace, user=make_user(address), role=role
        )

    def wants(self, member: Member, *kinds: str) -> None:
        member.told_of = list(kinds)
        member.save(update_fields=["told_of"])

    def wrong(self, cause: str = "c", times: int = 1, **place: str) -> Snag:
        about = Snag.About.SEQUENCE
        return report(
            self.world.workspace, about, cause, f"{cause} went wrong.", "Fix it.", place, times
        )

    def letters(self) -> list[tuple[str, str, str]]:
        """To whom, subject and text of what is sent by the jobs that wait now."""
        notice_all(self.world.workspace)
        mail.outbox.clear()
        jobs = ProcrastinateJob.objects.filter(task_name="notices.send").order_by("id")
        for job in jobs:
            send(job.args["member_id"], job.args["notices"].split(","))
        jobs.delete()
        return [(one.to[0], str(one.subject), str(one.body)) for one in mail.outbox]

    def test_who_can_change_something_is_told_that_it_needs_attention_once(self) -> None:
        self.wrong(sequence=str(self.world.sequence.pk))
        letters = self.letters()
        self.assertEqual(
            [one[0] for one in letters], [self.world.user.email, "ed@larkmoor.example"]
        )
        self.assertEqual(letters[0][1], "“First telescope” needs attention")
        self.assertIn("First telescope: c went wrong. Fix it.\n", letters[0][2])
        self.assertIn(f"/sequences/{self.world.sequence.pk}\n", letters[0][2])
        self.wrong(sequence=str(self.world.sequence.pk))
        self.assertEqual(self.letters(), [])
        # Another cause of the same thing is told of; the same one after it was closed too.
        self.wrong("d", sequence=str(self.world.sequence.pk))
        self.assertEqual(len(self.letters()), 2)
        close(Snag.everywhere.get(cause="c"))
        self.wrong(sequence=str(self.world.sequence.pk))
        self.assertEqual(len(self.letters()), 2)

    def test_below_the_number_that_is_set_nobody_is_told(self) -> None:
        self.world.workspace.attention_after = 5
        self.world.workspace.save()
        source = str(self.world.source.pk)
        self.wrong("a", 2, source=source)
        self.wrong("b", 2, source=source)
        self.assertEqual(self.letters(), [])
        self.assertEqual(attention_of(self.world.workspace, "source"), {})
        self.wrong("a", 1, source=source)
        self.assertEqual(attention_of(self.world.workspace, "source"), {self.world.source.pk: 5})
        [(_, subject, text), _] = self.letters()
        self.assertEqual(subject, "“Telescope guide” needs attention")
        self.assertIn("a went wrong. Fix it. (3 times)", text)
        self.assertIn("b went wrong. Fix it. (2 times)", text)

    def test_what_is_over_before_it_is_sent_is_not_told(self) -> None:
        snag = self.wrong(sequence=str(self.world.sequence.pk))
        notice_all(self.world.workspace)
        close(snag)
        self.assertEqual(self.letters(), [])

    def test_what_somebody_else_turned_on(self) -> None:
        for one in (self.owner, self.editor):
            self.wants(one, "turned_on")
        source = make_source(self.world.workspace, "Night walk", self.owner)
        document = RouteDocument.model_validate(shown_revision(self.world.source).document)
        save_route_draft(source, document, 1, self.owner)
        with acting(self.editor):
            turn_on(source, self.editor)
        [(to, subject, text)] = self.letters()
        self.assertEqual(to, self.world.user.email)
        self.assertEqual(subject, "ed@larkmoor.example turned on “Night walk”, revision 1")
        self.assertIn(f"/sources/{source.pk}\n", text)
        self.assertEqual(self.letters(), [])
        self.assertEqual(HistoryEntry.everywhere.get(kind="turned_on").member, self.editor)

    def test_many_who_enter_and_who_leave_once_a_day(self) -> None:
        self.wants(self.reader, "many")
        self.world.workspace.many_in_a_day = 3
        self.world.workspace.save()
        for n in range(2):
            self.world.arrive(f"p{n}@example.com", consent="on")
        self.assertEqual(self.letters(), [])
        self.world.arrive("p2@example.com", consent="on")
        [(to, subject, text)] = self.letters()
        self.assertEqual(to, "reader@larkmoor.example")
        self.assertEqual(subject, "“First telescope”: 3 people entered it today so far")
        self.assertIn("3 people entered it today so far.", text)
        self.world.arrive("p3@example.com", consent="on")
        self.assertEqual(self.letters(), [])
        now = clock.now(self.world.workspace)
        # Who went to the end is no one who left.
        runs = list(Run.everywhere.order_by("pk"))
        for run, ended in zip(
            runs, ("finished", "unsubscribed", "member", "excluded"), strict=True
        ):
            Run.everywhere.filter(pk=run.pk).update(ended=ended, ended_at=now)
        [(_, subject, _)] = self.letters()
        self.assertEqual(subject, "“First telescope”: 3 people left it today so far")
        clock.set_time(self.world.workspace, now + timedelta(days=1))
        self.assertEqual(self.letters(), [])

    def test_ones_own_choice(self) -> None:
        client = Client()
        client.force_login(self.reader.user)
        at = f"/api/workspaces/{self.world.workspace.slug}/told-of"
        self.assertEqual(client.get(at).json(), {"kinds": [], "address": "reader@larkmoor.example"})
        body: Any = json.dumps({"kinds": ["many", "attention", "many"]})
        self.assertEqual(
            client.put(at, body, "application/json").json()["kinds"], ["many", "attention"]
        )
        self.reader.refresh_from_db()
        self.assertEqual(self.reader.wants, ["many", "attention"])
        self.owner.refresh_from_db()
        self.assertEqual(self.owner.wants, ["attention"])
        wrong = client.put(at, json.dumps({"kinds": ["everything"]}), "application/json")
        self.assertEqual(wrong.status_code, 422)

    def test_markup_in_names_is_text_and_the_other_workspace_hears_nothing(self) -> None:
        self.world.sequence.name = "<b>First</b>"
        self.world.sequence.save()
        self.wrong(sequence=str(self.world.sequence.pk))
        notice_all(self.world.workspace)
        ids = [
            str(pk)
            for pk in Notice.everywhere.filter(kind="attention").values_list("pk", flat=True)
        ]
        other = make_world_beside()
        mail.outbox.clear()
        send(str(other.pk), ids)
        self.assertEqual(mail.outbox, [])
        send(str(self.owner.pk), ids)
        raw = message_from_bytes(mail.outbox[0].message().as_bytes())
        html = raw.get_payload()[1].get_payload(decode=True).decode()  # type: ignore[index, union-attr]
        self.assertIn("&lt;b&gt;First", html)

    def test_old_notices_go_but_for_those_of_what_is_open(self) -> None:
        self.wrong(sequence=str(self.world.sequence.pk))
        over = self.wrong("over", sequence=str(self.world.sequence.pk))
        self.letters()
        close(over)
        now = clock.now(self.world.workspace)
        clock.set_time(self.world.workspace, now + KEPT + timedelta(days=1))
        forget()
        self.assertEqual(Notice.everywhere.filter(kind="attention").count(), 1)
        self.assertEqual(self.letters(), [])


def make_world_beside() -> Member:
    """A member of another workspace."""
    from server.workspaces.actions import make_workspace

    return Member.objects.get(workspace=make_workspace("Other", make_user("o@other.example")))


class OneAgain(TestCase):
    """Somebody whom an error had stopped goes on alone."""

    def test_one_of_two_goes_on(self) -> None:
        world = make_world()
        runs = []
        for n in range(2):
            world.arrive(f"p{n}@example.com", consent="on")
        advance_due_runs(str(world.workspace.pk))
        snag = report(world.workspace, Snag.About.SEQUENCE, "x", "A step broke.")
        Run.everywhere.update(snag=snag, tries=5)
        runs = list(Run.everywhere.order_by("pk"))
        client = Client()
        client.force_login(world.user)
        at = f"/api/workspaces/{world.workspace.slug}"
        lines = client.get(f"{at}/sequences/{world.sequence.pk}/runs").json()["runs"]
        self.assertEqual({one["held"] for one in lines}, {"A step broke."})
        self.assertEqual(client.post(f"{at}/runs/{runs[0].pk}/again").status_code, 200)
        states = list(Run.everywhere.order_by("pk").values_list("snag", "tries"))
        self.assertEqual(states, [(None, 0), (snag.pk, 5)])
        snag.refresh_from_db()
        self.assertIsNone(snag.closed_at)
        self.assertEqual(client.post(f"{at}/runs/{runs[0].pk}/again").status_code, 422)
        self.assertEqual(client.post(f"{at}/runs/{runs[1].pk}/again").status_code, 200)
        snag.refresh_from_db()
        self.assertIsNotNone(snag.closed_at)
        self.assertTrue(
            HistoryEntry.everywhere.filter(sentence__startswith="let somebody go on").exists()
        )
