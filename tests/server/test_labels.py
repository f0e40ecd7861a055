"""Tags and lists that change once people have them."""

from django.test import TestCase

from server.people.actions import make_list, make_tag
from server.people.labels import (
    causes_of,
    look_alikes,
    merge_tags,
    remove_list,
    remove_tag,
    rename,
)
from server.people.models import Tag
from server.workspaces.errors import Refused
from tests.world import make_world


class Labels(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.guide = Tag.objects.of(self.workspace).get(name="guide")
        self.moon = Tag.objects.of(self.workspace).get(name="moon")
        self.person = self.world.arrive("a@b.example", look="moon")
        self.world.arrive("c@d.example")

    def test_merged_each_person_keeps_one(self) -> None:
        self.assertEqual(merge_tags(self.moon, self.guide), 1)
        self.assertEqual(self.guide.taggings.count(), 2)
        self.assertEqual(self.person.tags.count(), 1)
        with self.assertRaises(Refused):
            merge_tags(self.guide, self.guide)

    def test_renamed_while_rules_go_on(self) -> None:
        rename(self.guide, "  the   guide ", "tag")
        person = self.world.arrive("e@f.example")
        self.assertEqual(person.tags.get().name, "the guide")
        with self.assertRaises(Refused):
            rename(self.guide, "MOON", "tag")

    def test_removed_from_everybody_with_the_count(self) -> None:
        self.assertEqual(remove_tag(self.guide), 2)
        # The route says so, and nothing else of a submission is lost.
        person = self.world.arrive("e@f.example", first_name="Ines")
        self.assertEqual(person.values["first_name"], "Ines")
        problems = (person.submissions.get().decision or {})["problems"]
        self.assertEqual([one["code"] for one in problems], ["tag_gone"])

    def test_a_list_with_evidence_is_not_thrown_away(self) -> None:
        with self.assertRaises(Refused):
            remove_list(self.world.news)
        self.assertEqual(remove_list(make_list(self.workspace, "Never used")), 0)

    def test_names_that_are_nearly_the_same(self) -> None:
        for name in ("ebook", "e-book", "E Books", "other"):
            make_tag(self.workspace, name)
        names = {one.name: one.name for one in Tag.objects.of(self.workspace).order_by("pk")}
        self.assertEqual(look_alikes(names), {"e-book": "ebook", "E Books": "ebook"})

    def test_who_has_it_and_why(self) -> None:
        self.assertEqual(
            causes_of(self.guide), [("Telescope guide: rule 1: everybody from here", 2)]
        )
