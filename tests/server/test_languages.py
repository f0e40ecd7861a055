"""What visitors and subscribers read, in their language: every text in every catalogue, and the pages."""

import ast
import re
from collections import Counter
from datetime import timedelta
from gettext import GNUTranslations
from pathlib import Path
from typing import Any

from babel.messages.pofile import read_po
from django.conf import settings
from django.test import Client, TestCase
from django.utils import translation

from core.messages import MessageDocument, simple_message
from core.reading import Question
from core.values import direction
from core.wording import FORM_TEXTS, LIST_TEXTS
from server.mail.actions import deliver_queued
from server.mail.confirm_links import confirm_address
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import Send
from server.people.actions import make_field
from server.people.links import leave_token, own_address, request_address
from server.people.models import Evidence, Membership, OwnRequest
from server.workspaces import clock
from server.workspaces.languages import best_of, speaking
from tests.world import RealMail, make_world

SERVER = Path(settings.BASE_DIR) / "server"
CATALOGUES = sorted(Path(settings.LOCALE_PATHS[0]).iterdir())
_TRANSLATE = re.compile(r"""{%\s*translate\s+"([^"]+)"\s*%}""")
_BLOCK = re.compile(r"{%\s*blocktranslate.*?%}(.*?){%\s*endblocktranslate\s*%}", re.S)
_SAY = re.compile(r"""{%\s*say\s+"([^"]+)"[^%]*?%}""")
_GETTEXT = {"_", "gettext", "gettext_noop", "ngettext"}


def texts() -> Counter[str]:
    """Every text to be translated, from the templates and from the calls in the code: a second reading,
    beside the one that made the catalogues."""
    found: Counter[str] = Counter()
    for path in SERVER.rglob("templates/**/*"):
        if path.suffix in (".html", ".txt"):
            source = path.read_text()
            found.update(_TRANSLATE.findall(source))
            found.update(_SAY.findall(source))
            found.update(
                re.sub(r"{{\s*(\w+)\s*}}", r"%(\1)s", block) for block in _BLOCK.findall(source)
            )
    for path in SERVER.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") in _GETTEXT:
                for one in node.args:
                    if isinstance(one, ast.Constant) and isinstance(one.value, str):
                        found[one.value] += 1
    return found


class Catalogues(TestCase):
    def read(self, folder: Path) -> Any:
        with (folder / "LC_MESSAGES" / "django.po").open("rb") as file:
            return read_po(file)

    def test_every_text_is_in_every_language(self) -> None:
        wanted = set(texts())
        self.assertGreater(len(wanted), 150)
        self.assertEqual({one.name for one in CATALOGUES} | {"en"}, set(dict(settings.LANGUAGES)))
        for folder in CATALOGUES:
            have: set[str] = set()
            for one in self.read(folder):
                ids = one.id if isinstance(one.id, tuple) else (one.id,)
                said = one.string if isinstance(one.string, tuple) else (one.string,)
                if one.id:
                    have.update(ids)
                    self.assertTrue(all(said), (folder.name, one.id))
                    self.assertFalse(one.fuzzy, (folder.name, one.id))
            self.assertEqual(wanted - have, set(), folder.name)
            self.assertEqual(have - wanted, set(), f"{folder.name}: no longer used")

    def test_no_translation_loses_or_invents_a_value(self) -> None:
        named = re.compile(r"%\((\w+)\)s")
        for folder in CATALOGUES:
            for one in self.read(folder):
                if isinstance(one.id, str) and one.id:
                    before, after = (Counter(named.findall(text)) for text in (one.id, one.string))
                    self.assertEqual(before, after, (folder.name, one.id))
                    self.assertNotIn("%", named.sub("", one.string), (folder.name, one.id))

    def test_what_runs_is_what_is_written(self) -> None:
        for folder in CATALOGUES:
            with (folder / "LC_MESSAGES" / "django.mo").open("rb") as file:
                runs = GNUTranslations(file)
            for one in self.read(folder):
                if isinstance(one.id, str) and one.id:
                    self.assertEqual(runs.gettext(one.id), one.string, folder.name)

    def test_plurals_by_the_rules_of_cldr(self) -> None:
        """Polish has three forms and Arabic six (CLDR's plural rules); 22 and 100 are where they differ."""
        for tag, days, said in (
            ("pl", 1, "dziennie"), ("pl", 22, "22 dni"), ("ar", 2, "يومين"), ("ar", 3, "3 أيام"),
            ("ar", 14, "14 يومًا"), ("ar", 100, "100 يوم"), ("fr", 1, "par jour"),
        ):  # fmt: skip
            with speaking(tag):
                text = translation.ngettext(
                    "at most one email a day", "at most one email every %(days)s days", days
                )
                self.assertIn(said, text % {"days": days}, (tag, days))

    def test_which_catalogue_a_tag_has(self) -> None:
        for tag, catalogue in (
            ("de-AT", "de"), ("pt_BR", "pt"), ("AR", "ar"), ("cs", "en"), ("", "en"), ("zh-Hant", "en"),
        ):  # fmt: skip
            self.assertEqual(best_of(tag), catalogue, tag)
        # Scripts that run from right to left (CLDR's layout of languages).
        self.assertEqual([direction(one) for one in ("ar-EG", "he", "de")], ["rtl", "rtl", "ltr"])


class Pages(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.workspace = self.world.workspace
        self.browser = Client()

    def form_in(self, language: str, **more: Any) -> str:
        route = self.world.change_route()
        form = route.form.model_copy(update={"language": language, **more})
        self.world.change_route(form=form)
        return f"/f/{self.world.source.key}"

    def shown(self, answer: Any, language: str, way: str, *words: str) -> str:
        page = str(answer.content.decode())
        self.assertIn(f'<html lang="{language}" dir="{way}">', page)
        for one in words:
            self.assertIn(one, page)
        return page

    def test_a_form_from_its_first_look_to_thanks(self) -> None:
        for language, way, optional, wrong, thanks in (
            ("de-AT", "ltr", "(freiwillig)", "Bitte geben Sie Ihre E-Mail-Adresse ein.", "Vielen Dank"),
            ("ar", "rtl", "(اختياري)", "يُرجى إدخال عنوان بريدك الإلكتروني.", "شكرًا لك"),
            ("cs", "ltr", "(optional)", "Please enter your email address.", "Thank you"),
        ):  # fmt: skip
            path = self.form_in(language)
            self.shown(self.browser.get(path), language, way, optional)
            answer = self.browser.post(path, {"email": ""})
            self.assertEqual(answer.status_code, 422)
            self.shown(answer, language, way, wrong)
            answer = self.browser.post(path, {"email": "ines@example.com"}, follow=True)
            self.shown(answer, language, way)
            part = self.browser.get(f"{path}/part").json()
            self.assertEqual((part["language"], part["direction"]), (language, way))
            self.assertIn(optional, part["html"])
            sees = self.world.change_route().visitor_sees
            self.world.change_route(
                visitor_sees=sees.model_copy(update={"heading": "", "text": ""})
            )
            self.shown(self.browser.get(f"{path}/thanks"), language, way, thanks)
            self.world.change_route(visitor_sees=sees)

    def test_what_is_wrong_with_each_kind_of_answer(self) -> None:
        wrong = {
            "email": ("nobody", "vollständige E-Mail-Adresse"),
            "phone": ("12", "Telefonnummer|Landesvorwahl"),
            "date": ("never", "ein Datum"),
            "number": ("many", "eine Zahl"),
            "url": ("not a page", "eine Webadresse"),
            "country": ("Nowhere", "ein Land"),
        }
        questions = tuple(
            Question(id=kind, name=kind, type=kind, label=kind)  # type: ignore[arg-type]
            for kind in wrong
        )
        asked = Question(id="t", name="t", type="text", label="Farbe?", required=True)
        own = self.world.change_route().form.questions
        path = self.form_in("de", questions=(*own, *questions[1:], asked))
        answers = {kind: answer for kind, (answer, _) in wrong.items()}
        page = self.browser.post(path, answers).content.decode()
        for kind, (_, said) in wrong.items():
            box = "q1" if kind == "email" else kind
            self.assertRegex(page, rf'id="{box}-wrong">[^<]*(?:{said})', kind)
        self.assertIn("Bitte füllen Sie „Farbe“ aus.", page)
        self.assertIn(">Deutschland<", page)

    def test_too_much_of_everything_is_said_in_the_language_too(self) -> None:
        path = self.form_in("sv")
        fields = {f"n{number}": "x" for number in range(300)}
        answer = self.browser.post(path, fields)
        self.assertEqual(answer.status_code, 413)
        self.shown(answer, "sv", "ltr", "Det är mer än ett formulär kan ta emot.")

    def test_pages_of_nobody_in_particular_go_by_the_browser(self) -> None:
        for path in ("/f/nothing", "/u/nothing", "/p/nothing", "/d/nothing", "/l/nothing"):
            answer = self.browser.get(path, headers={"Accept-Language": "xx, nl;q=0.8, en;q=0.5"})
            self.assertEqual(answer.status_code, 404)
            self.assertIn('<html lang="nl"', answer.content.decode(), path)

    def test_an_email_its_frame_and_unsubscribing(self) -> None:
        document: MessageDocument = simple_message("Hallo", body="<p>Guten Tag</p>")
        self.world.news.language = "fr"
        self.world.news.save()
        for own, why, page in (
            ("de", "Sie erhalten diese E-Mail, weil", "Von Open-night news abmelden"),
            ("", "Vous recevez cet e-mail parce que", "Se désabonner de Open-night news"),
            ("ar", "تصلك هذه الرسالة لأنك مشترك في", "إلغاء الاشتراك في Open-night news"),
        ):
            save_message(
                self.world.guide, document.model_copy(update={"language": own}), None, None
            )
            turn_on_changes(self.world.guide, None)
            self.world.arrive(f"a{own}@example.com")
            deliver_queued(self.workspace)
            (received,) = self.mailbox.list(f"a{own}@example.com")
            parts = {
                one.get_content_type(): str(one.get_payload(decode=True), "utf-8")  # type: ignore[arg-type]
                for one in received.message.walk()
                if not one.is_multipart()
            }
            language = own or "fr"
            self.assertIn(why, parts["text/plain"])
            self.assertIn(why, parts["text/html"])
            self.assertRegex(parts["text/html"], rf'<html[^>]* lang="{language}"')
            self.assertEqual(received.message["Content-Language"], language)
            self.assertNotIn("Unsubscribe", parts["text/html"])
            send = Send.everywhere.get(subscriber__address=f"a{own}@example.com")
            way = direction(language)
            answer = self.browser.get(f"/u/{leave_token(str(send.pk))}")
            self.shown(answer, language, way, page)
            answer = self.browser.post(f"/u/{leave_token(str(send.pk))}", {"from": "list"})
            self.shown(answer, language, way)
            self.assertNotIn("unsubscribed", answer.content.decode())

    def test_confirming_goes_by_the_list(self) -> None:
        person = self.world.arrive("ines@example.com")
        row = Membership.everywhere.select_related("list").get(subscriber=person)
        row.list.language = "it"
        row.list.save()
        Membership.everywhere.update(state="pending")
        now = clock.now(self.workspace)
        path = confirm_address(row, now).removeprefix(settings.PUBLIC_ADDRESS)
        self.shown(self.browser.get(path), "it", "ltr", "Sì, iscrivimi")
        self.shown(self.browser.post(path), "it", "ltr", "È iscritto")
        old = confirm_address(row, now - timedelta(days=30))
        Membership.everywhere.update(state="pending")
        answer = self.browser.post(old.removeprefix(settings.PUBLIC_ADDRESS))
        self.assertEqual(answer.status_code, 410)
        self.shown(answer, "it", "ltr", "Il link ha più di 14 giorni.")

    def test_their_own_page_and_what_they_see_is_the_evidence(self) -> None:
        person = self.world.arrive("ines@example.com")
        field = make_field(self.workspace, "Speaks", "language")
        person.values = {**person.values, field.key: "pl"}
        person.save()
        person.refresh_from_db()
        path = own_address(person.pk, clock.now(self.workspace))
        path = path.removeprefix(settings.PUBLIC_ADDRESS)
        self.shown(self.browser.get(path), "pl", "ltr", "Co o Państwu wiemy")
        answer = self.browser.post(path, {"do": f"leave:{self.world.news.pk}"})
        self.shown(answer, "pl", "ltr", "Subskrypcja tej listy została anulowana.")
        answer = self.browser.post(path, {"do": f"back:{self.world.news.pk}"})
        page = self.shown(answer, "pl", "ltr")
        self.assertNotIn("Subscribe", page)
        wordings = set(Evidence.everywhere.values_list("wording", flat=True))
        self.assertIn("Subskrybuj ponownie: Open-night news", wordings)
        answer = self.browser.post(path, {"do": "address", "address": "nobody"})
        self.assertEqual(answer.status_code, 422)
        self.shown(answer, "pl", "ltr", "Proszę podać pełny adres e-mail")
        self.browser.post(path, {"do": "erase"})
        request = OwnRequest.everywhere.get(kind="erase")
        at = request_address(request.pk, request.asked_at).removeprefix(settings.PUBLIC_ADDRESS)
        self.shown(self.browser.get(at), "pl", "ltr", "Usunąć wszystkie dane?")
        self.shown(self.browser.post(at), "pl", "ltr", "Dane zostały usunięte")

    def test_a_form_in_its_own_words_which_are_never_markup(self) -> None:
        own = {
            "optional": "<b>by choice</b>",
            "no_address": "We can't reach you without it, 100%.",
            "missing_named": "{{ question }}? Please say.",
            "choose": "  ",
        }
        asked = Question(id="t", name="t", type="text", label="Colour", required=True)
        picked = Question(id="c", name="c", type="country", label="Land")
        questions = (*self.world.change_route().form.questions, asked, picked)
        path = self.form_in("de", words=own, questions=questions)
        page = self.browser.get(path).content.decode()
        self.assertIn("(&lt;b&gt;by choice&lt;/b&gt;)", page)
        self.assertNotIn("<b>by", page)
        self.assertIn(">Bitte wählen<", page)
        page = self.browser.post(path, {"email": ""}).content.decode()
        self.assertIn("We can&#x27;t reach you without it, 100%.", page)
        self.assertIn("Colour? Please say.", page)
        self.assertIn("Noch nicht gesendet. Bitte prüfen:", page)
        # Another source has the usual words.
        page = self.browser.post(self.form_in("de", words={}), {"email": ""}).content.decode()
        self.assertIn("Bitte geben Sie Ihre E-Mail-Adresse ein.", page)

    def test_a_list_in_its_own_words_where_they_are_in_the_language(self) -> None:
        self.set_public(
            language="de",
            words={
                "why": "Post von {{ list }}, wie gewünscht <i>hier</i>.",
                "unsubscribe": "Keine Post mehr",
                "unsubscribe_list": "Nichts mehr von {{ list }}",
            },
        )
        for language, why, leaves, page in (
            ("", "Post von Open-night news, wie gewünscht", "Keine Post mehr", "Nichts mehr von"),
            ("de-AT", "Post von Open-night news", "Keine Post mehr", "Nichts mehr von"),
            ("fr", "Vous recevez cet e-mail parce que", "Se désabonner", "Se désabonner de"),
        ):
            document = simple_message("Hallo", body="<p>Guten Tag</p>")
            document = document.model_copy(update={"language": language})
            save_message(self.world.guide, document, None, None)
            turn_on_changes(self.world.guide, None)
            self.world.arrive(f"b{language}@example.com")
            deliver_queued(self.workspace)
            (received,) = self.mailbox.list(f"b{language}@example.com")
            html = next(
                str(one.get_payload(decode=True), "utf-8")  # type: ignore[arg-type]
                for one in received.message.walk()
                if one.get_content_type() == "text/html"
            )
            self.assertIn(why, html)
            self.assertIn(leaves, html)
            self.assertNotIn("<i>hier", html)
            send = Send.everywhere.get(subscriber__address=f"b{language}@example.com")
            answer = self.browser.get(f"/u/{leave_token(str(send.pk))}")
            self.shown(answer, language or "de", "ltr", f"{page} Open-night news")

    def set_public(self, **change: Any) -> Any:
        signed = Client()
        signed.force_login(self.world.user)
        path = f"/api/workspaces/{self.workspace.slug}"
        body = {"name": self.world.news.name, **change}
        answer = signed.put(
            f"{path}/lists/{self.world.news.pk}", body, content_type="application/json"
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.world.news.refresh_from_db()
        return answer.json()

    def test_what_can_be_worded_is_listed_with_the_usual_words(self) -> None:
        signed = Client()
        signed.force_login(self.world.user)
        path = f"/api/workspaces/{self.workspace.slug}"
        told = signed.get(f"{path}/wording", {"about": "list", "language": "de"}).json()
        (why,) = [one for one in told if one["key"] == "why"]
        self.assertEqual(
            why["usual"], "Sie erhalten diese E-Mail, weil Sie {{ list }} abonniert haben."
        )
        self.assertEqual(why["tokens"], ["list"])
        self.assertEqual(signed.get(f"{path}/wording?about=people").status_code, 422)
        answer = signed.put(
            f"{path}/lists/{self.world.news.pk}",
            {"name": self.world.news.name, "words": {"why": "{{ name }}"}},
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(answer.json()["errors"][0]["place"], "words.why")

    def test_every_text_that_can_be_worded_is_said_somewhere(self) -> None:
        """By the words of the source or list: `translated` in the code, `say` in the templates."""
        spoken: set[str] = set()
        for path in SERVER.rglob("templates/**/*.html"):
            spoken.update(_SAY.findall(path.read_text()))
        for path in SERVER.rglob("*.py"):
            source = path.read_text()
            if "import translated as _" in source:
                for node in ast.walk(ast.parse(source)):
                    if isinstance(node, ast.Call) and getattr(node.func, "id", "") in (
                        "_",
                        "gettext_noop",
                    ):
                        spoken.update(
                            str(one.value) for one in node.args if isinstance(one, ast.Constant)
                        )
        missing = {one.usual for one in (*FORM_TEXTS, *LIST_TEXTS)} - spoken
        self.assertEqual(missing, set())

    def test_nothing_of_it_stays_for_the_next_request(self) -> None:
        path = self.form_in("de")
        self.browser.get(path)
        self.assertEqual(translation.get_language(), "en")
