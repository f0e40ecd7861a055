"""What is measured is there: the crowd of the benches, made by SQL, in the tables as they are by now."""

from django.db import connection
from django.test import TransactionTestCase

from bench.crowd import COUNT, make_crowd, parameters
from core.conditions import FieldTest, Group, MembershipTest, TagTest
from server.audiences.query import audience_query
from server.people.actions import furnish
from server.people.models import Subscriber
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.actions import make_workspace
from server.workspaces.models import User


class Crowd(TransactionTestCase):
    def test_it_is_counted_alike_by_both(self) -> None:
        workspace = make_workspace("Bench", User.objects.create_user("bench@example.com"))
        furnish(workspace)
        names = make_crowd(workspace, people=600)
        self.assertEqual(Subscriber.objects.of(workspace).count(), 600)
        condition = Group(
            of=(
                FieldTest(field=str(names.country.pk), op="is", value="PT"),
                TagTest(tag=str(names.tag.pk)),
                MembershipTest(list=str(names.news.pk), states=("subscribed",)),
            )
        )
        now = clock.now(workspace)
        fits = audience_query(condition, workspace, full_catalogue(workspace), now)
        with connection.cursor() as cursor:
            cursor.execute(COUNT, parameters(workspace, names))
            [by_hand] = cursor.fetchone()
        self.assertEqual(fits.count(), by_hand)
        self.assertGreater(by_hand, 5)
