"""Snags name addresses in their sentences: those of the erased are taken out, the snag stays."""

from django.db.models import Q

from server.workspaces.personal import Subject, holds_people

from .models import Snag


def _erase(subject: Subject) -> None:
    named = subject.named_in("sentence") | Q(place__person=str(subject.person))
    for text in subject.texts:
        named |= Q(sentence__icontains=f"“{text}”")
    for snag in Snag.objects.of(subject.workspace).filter(named):
        # Others' submissions and emails may wait for the same fix.
        snag.sentence = subject.without(snag.sentence)[:500]
        if snag.place.get("person") == str(subject.person):
            snag.place = {name: one for name, one in snag.place.items() if name != "person"}
        snag.cause = snag.cause.replace(str(subject.person), "erased")
        snag.save(update_fields=["sentence", "place", "cause"])


holds_people(
    Snag,
    erasing="addresses and names are taken out of its sentence; it stays for what else it stops",
    merging="stays",
    exporting="no: it is about a fault, not about them",
    retention="closed ones for 400 days",
    erase=_erase,
)
