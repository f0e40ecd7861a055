"""A person changed by a member: at once, whole or not at all, with its because."""

from server.people.models import Evidence
from tests.server.test_references import Api


class ByHand(Api):
    def setUp(self) -> None:
        super().setUp()
        self.person = self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        self.at = f"/people/{self.person.pk}"
        self.tags = {one["name"]: one["id"] for one in self.get("/catalogue")["tags"]}
        self.news = str(self.world.news.pk)

    def state(self) -> str:
        return str(self.person.memberships.get().state)

    def test_fields_and_tags_with_who_did_it(self) -> None:
        change = {
            "fields": {"first_name": "Inês"},
            "add_tags": [self.tags["planets"]],
            "remove_tags": [self.tags["moon"]],
        }
        self.assertEqual(self.send("post", f"{self.at}/by-hand", change), {"count": 3})
        shown = self.get(self.at)
        self.assertEqual({one["name"] for one in shown["tags"]}, {"guide", "planets"})
        (name,) = [one for one in shown["fields"] if one["key"] == "first_name"]
        self.assertEqual((name["value"], name["written"]), ("Inês", "Inês"))
        self.assertEqual(name["because"]["sentence"], "changed by noor@larkmoor.example")
        found = self.get("/people?search=ines")
        self.assertEqual([one["name"] for one in found["people"]], ["Inês"])
        # The same again changes nothing.
        self.assertEqual(self.send("post", f"{self.at}/by-hand", change), {"count": 0})

    def test_taken_off_a_list_with_its_sequence(self) -> None:
        self.send("post", f"{self.at}/by-hand", {"leave": [self.news]})
        self.assertEqual(self.state(), "unsubscribed")
        self.assertEqual(self.person.runs.get().ended, "unsubscribed")
        proof = Evidence.everywhere.latest("at", "pk")
        self.assertEqual(proof.because["member"], str(self.world.member.pk))
        # An opt-in of their own, by a form that says so, brings them back.
        self.world.arrive("ines@example.com", first_name="Ines", look="planets")
        self.assertEqual(self.state(), "subscribed")

    def test_whoever_complained_comes_back_by_a_confirmation_alone(self) -> None:
        self.send("post", f"{self.at}/by-hand", {"complained": [self.news]})
        self.assertEqual(self.state(), "complained")
        self.world.arrive("ines@example.com", first_name="Ines", look="planets")
        self.assertEqual(self.state(), "complained")

    def test_where_something_is_wrong_nothing_is_changed(self) -> None:
        change = {"fields": {"nonsense": "x"}, "leave": [self.news]}
        found = self.send("post", f"{self.at}/by-hand", change, 422)
        self.assertEqual(found["errors"][0]["place"], "nonsense")
        self.assertEqual(self.state(), "subscribed")
        for theirs in ("00000000-0000-0000-0000-000000000000", "x"):
            self.send("post", f"{self.at}/by-hand", {"add_tags": [theirs]}, 422)
