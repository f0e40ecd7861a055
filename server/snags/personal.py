"""Snags name addresses in their sentences: those of the erased are taken out, the snag stays."""

import re

from django.db.models import Q

from server.workspaces.personal import Subject, holds_people

from .models import Snag


def _erase(subject: Subject) -> None:
    named = Q(sentence__icontains=subject.address) | Q(place__person=str(subject.person))
    for snag in Snag.objects.of(subject.workspace).filter(named):
        # Others' submissions and emails may wait for the same fix.
        pattern = re.compile(re.escape(subject.address), re.IGNORECASE)
        snag.sentence = pattern.sub("somebody who was erased", snag.sentence)[:500]
        if snag.place.get("person") == str(subject.person):
            snag.place = {name: one for name, one in snag.place.items() if name != "person"}
        snag.cause = snag.cause.replace(str(subject.person), "erased")
        snag.save(update_fields=["sentence", "place", "cause"])


holds_people(
    Snag,
    erasing="the address is taken out of its sentence; it stays for what else it stops",
    merging="stays",
    exporting="no: it is about a fault, not about them",
    retention="closed ones stay",
    erase=_erase,
)
