"""Routes and sequences as files: out, in again, and into another workspace."""

import json
from typing import Any

from server.sequences.actions import make_sequence
from server.sources.actions import make_source, shown_revision
from server.sources.models import Source
from tests.server.test_references import Api
from tests.world import make_world


class Portable(Api):
    def out(self, path: str) -> dict[str, Any]:
        answer = self.client.get(f"/api/workspaces/{self.workspace.slug}{path}/document.json")
        self.assertEqual(answer.status_code, 200)
        self.assertIn("attachment", answer["Content-Disposition"])
        return json.loads(answer.content)  # type: ignore[no-any-return]

    def taken(self, path: str, document: Any, status: int = 200) -> Any:
        return self.send("put", f"{path}/document.json", document, status)

    def test_a_route_out_and_in_changes_nothing(self) -> None:
        at = f"/sources/{self.world.source.pk}"
        document = self.out(at)
        self.assertEqual(document["name"], "Telescope guide")
        self.assertEqual(self.taken(at, document), {"missing": []})
        shown = shown_revision(self.world.source)
        self.assertEqual(shown.state, "draft")
        self.assertEqual(shown.document, self.world.source.revisions.get(number=1).document)

    def test_into_another_workspace(self) -> None:
        document = self.out(f"/sources/{self.world.source.pk}")
        other = make_world("Other", "other@larkmoor.example")
        self.client.logout()
        self.client.force_login(other.user, "django.contrib.auth.backends.ModelBackend")
        self.workspace = other.workspace
        source = make_source(other.workspace, "Copied", other.member)
        found = self.taken(f"/sources/{source.pk}", document)
        self.assertEqual(found, {"missing": []})
        shown = shown_revision(Source.everywhere.get(pk=source.pk)).document
        self.assertEqual(shown["consent"][0]["list"], str(other.news.pk))

    def test_a_sequence(self) -> None:
        document = self.out(f"/sequences/{self.world.sequence.pk}")
        other = make_sequence(self.workspace, "Second", self.world.member)
        self.assertEqual(self.taken(f"/sequences/{other.pk}", document), {"missing": []})

    def test_other_files_are_refused_with_what_is_wrong(self) -> None:
        at = f"/sources/{self.world.source.pk}"
        document = self.out(at)
        sequence = self.out(f"/sequences/{self.world.sequence.pk}")
        for body, code in (
            (sequence, "other_kind"),
            ({**document, "form": 9}, "other_form"),
            ({"x": 1}, "missing"),
            ({**document, "document": {"then": 5}}, "tuple_type"),
        ):
            codes = [one["code"] for one in self.taken(at, body, 422)["errors"]]
            self.assertIn(code, codes)
        self.assertEqual(shown_revision(self.world.source).state, "live")

    def test_what_a_document_has_different_from_the_stored_one(self) -> None:
        at = f"/sources/{self.world.source.pk}/differences"
        sheet = shown_revision(self.world.source).document
        self.assertEqual(self.send("post", at, sheet), [])
        sheet["visitor_sees"]["heading"] = "Mine"
        said = self.send("post", at, sheet)
        self.assertEqual(len(said), 1)
        self.assertIn("Mine", said[0])
