"""The next days, told beforehand: what goes out, what a draft would alter, what is expected."""

from datetime import date, time, timedelta

from core.delivering import SendingTimes
from core.sequences import Lane, SendStep, SequenceDocument, WaitStep
from server.doors.by_hand import let_one_in
from server.mail.confirming import set_confirming
from server.mail.deliver import deliver_everything
from server.mail.models import Send
from server.people.models import MailingList
from server.sequences import actions as sequences
from server.sequences.ahead import change_ahead, look_ahead
from server.sequences.models import Forecast, ForecastPerson
from server.sequences.moving_time import move_time
from server.workspaces import clock
from tests.server.test_whole_sequences import LONDON, Whole, days
from tests.world import RealMail


class Ahead(RealMail, Whole):
    def test_what_is_told_is_what_goes_out(self) -> None:
        self.turn_on(
            WaitStep(id="w", duration=days(2)), self.send("a1"), WaitStep(id="v", duration=days(3)),
            self.send("a2"), WaitStep(id="x", duration=days(1)), self.send("a3"),
            times=SendingTimes(weekdays=(1, 2, 3, 4, 5), begins=time(9), ends=time(17)),
        )  # fmt: skip
        for number in range(5):
            let_one_in(self.own, self.person(f"p{number}"), None, self.world.member)
        row = look_ahead(self.workspace)
        self.assertEqual(row.people, 5)
        told: dict[tuple[str, str], int] = {}
        for day in row.content["days"]:
            for one in day["emails"]:
                key = (day["day"], one["message"])
                told[key] = told.get(key, 0) + one["count"]
        self.assertGreater(sum(told.values()), 15)
        # Each gets four within seven days: one by the first sequence, three by this one.
        self.assertEqual(
            list(ForecastPerson.objects.of(self.workspace).values_list("emails", flat=True)),
            [4] * 5,
        )
        before = set(Send.everywhere.values_list("pk", flat=True))
        move_time(self.workspace, clock.now(self.workspace) + timedelta(days=30))
        got: dict[tuple[str, str], int] = {}
        for send in Send.everywhere.exclude(pk__in=before):
            key = (send.queued_at.astimezone(LONDON).date().isoformat(), str(send.message_id))
            got[key] = got.get(key, 0) + 1
        self.assertEqual(got, told)

    def test_what_a_draft_would_alter_is_what_it_alters(self) -> None:
        first, third = self.send("a1"), self.send("a3")
        second = SendStep(id="a2", message=str(self.world.guide.pk))
        wait = WaitStep(id="w", duration=days(2))
        self.turn_on(wait, first, WaitStep(id="v", duration=days(3)), second)
        for number in range(4):
            let_one_in(self.own, self.person(f"p{number}"), None, self.world.member)
        self.assertEqual(change_ahead(self.own).looked_at, 0, "there is no draft")
        before = self.counted(look_ahead(self.workspace))
        steps = (wait, first, WaitStep(id="v", duration=days(5)), second, third)
        document = SequenceDocument(
            list=self.news, again="once_only", lanes=(Lane(id="a", steps=steps),)
        )
        sequences.save_sequence_draft(self.own, document, None, self.world.member)
        told = change_ahead(self.own)
        self.assertEqual((told.looked_at, told.people), (4, 4))
        sequences.turn_on(self.own, self.world.member)
        self.fresh()
        after = self.counted(look_ahead(self.workspace))
        changed = {
            one: (before.get(one, 0), after.get(one, 0))
            for one in {*before, *after}
            if before.get(one, 0) != after.get(one, 0)
        }
        found = {one.message: (one.before, one.after) for one in told.emails}
        self.assertEqual({key: n for key, n in found.items() if n[0] != n[1]}, changed)
        moved = {one.message: one.at_another_time for one in told.emails}
        self.assertEqual(moved[str(second.message)], 4)

    def counted(self, row: Forecast) -> dict[str, int]:
        """Emails by message, of all days."""
        found: dict[str, int] = {}
        for day in row.content["days"]:
            for one in day["emails"]:
                found[one["message"]] = found.get(one["message"], 0) + one["count"]
        return found

    def test_emails_that_ask_to_confirm_are_expected_as_lately(self) -> None:
        set_confirming(MailingList.everywhere.get(pk=self.news), True, self.world.member)
        start = clock.now(self.workspace)
        for week in range(4):
            clock.set_time(self.workspace, start + timedelta(weeks=week))
            for number in range(3):
                self.world.arrive(f"new{week}.{number}@example.com", consent="on")
            deliver_everything(str(self.workspace.pk))
        clock.set_time(self.workspace, start + timedelta(weeks=4))
        row = look_ahead(self.workspace)
        told = {one["day"]: one["expected"] for one in row.content["days"] if one["expected"]}
        days_told = [date.fromisoformat(one) for one in sorted(told)]
        today = clock.now(self.workspace).astimezone(LONDON).date()
        self.assertEqual(days_told, [today + timedelta(weeks=n) for n in range(5)])
        self.assertEqual({each["count"] for some in told.values() for each in some}, {3})
