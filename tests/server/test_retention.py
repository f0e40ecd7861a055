"""What people answered is nowhere any more once the workspace's retention time is over."""

from datetime import timedelta
from typing import Any

from django.test import TestCase

from server.mail.models import Send
from server.mail.tasks import forget_answers as forget_of_emails
from server.sequences.models import Run
from server.sequences.moving_time import move_time
from server.sequences.tasks import forget_answers as forget_of_runs
from server.services.tasks import forget as forget_of_services
from server.snags.actions import close, report
from server.snags.models import Snag
from server.snags.tasks import forget as forget_snags
from server.submissions.tasks import forget as forget_submissions
from server.workspaces import clock
from server.workspaces.models import Workspace
from tests.server.test_erasing import dump
from tests.world import RealMail, make_world

SAID = "Betelgeuse once"


class Answers(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.world.arrive("ines@example.com", first_name="Ines", why=SAID, consent="on")

    def places(self) -> set[str]:
        return {name for name, text in dump().items() if SAID in text}

    def forward(self, **by: Any) -> None:
        workspace = Workspace.objects.get(pk=self.world.workspace.pk)
        move_time(workspace, clock.now(workspace) + timedelta(**by))
        for forget in (forget_submissions, forget_of_runs, forget_of_emails, forget_of_services):
            forget(0)

    def keep_for(self, days: int | None) -> None:
        Workspace.objects.update(retention_days=days)

    def test_they_are_gone_everywhere_after_it(self) -> None:
        self.keep_for(30)
        self.forward(days=29)
        self.assertEqual(self.places(), {"submissions_submission", "sequences_run", "mail_send"})
        self.forward(days=3)
        self.assertEqual(self.places(), set())
        self.assertEqual({one.state for one in self.world.sends()}, {"sent"})

    def test_without_a_time_they_stay(self) -> None:
        self.keep_for(None)
        self.forward(days=4000)
        self.assertEqual(len(self.places()), 3)

    def test_whoever_is_under_way_keeps_them_until_the_end(self) -> None:
        self.keep_for(30)
        Send.everywhere.filter(pk=self.world.sends()[0].pk).update(state="held")
        self.forward(days=3)
        Run.everywhere.update(ended="", ended_at=None)
        self.forward(days=40)
        self.assertEqual(self.places(), {"sequences_run", "mail_send"})
        Run.everywhere.update(ended="finished", ended_at=clock.now(self.world.workspace))
        Send.everywhere.filter(state="held").update(state="withdrawn")
        self.forward(seconds=1)
        self.assertEqual(self.places(), set())

    def test_closed_snags_go_after_their_time_and_open_ones_stay(self) -> None:
        workspace = self.world.workspace
        closed, open_ = (
            report(workspace, Snag.About.SEND, cause, f"{cause} broke.") for cause in ("one", "two")
        )
        close(closed)
        Send.everywhere.filter(pk=self.world.sends()[0].pk).update(snag=closed)
        for days, expected in ((399, {closed.pk, open_.pk}), (2, {open_.pk})):
            move_time(workspace, clock.now(workspace) + timedelta(days=days))
            forget_snags(0)
            self.assertEqual(set(Snag.everywhere.values_list("pk", flat=True)), expected)
        self.assertIsNone(self.world.sends()[0].snag)
