"""What may mend how a show is published, and who hears whom."""

from collections.abc import Iterator

from humble_relay.core.comms.comms_links import comms_apart, comms_not_carried
from humble_relay.core.comms.who_hears import hears_himself
from humble_relay.core.cures.cure import Cure, Cures, MakeCures
from humble_relay.core.endpoints.publication import link_leads_nowhere, live_unseen, stops_by_itself
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.edits import SetField


def _published(title: str, how: str, field: str, value: object) -> MakeCures:
    """One setting of a destination, changed there and here."""

    def cures(_: Case, thing: Thing) -> Iterator[Cure]:
        edit = {"noun": "device", "id": thing.id, "field": f"ingest.publication.{field}", "value": value}
        yield Cure(title=title, how=how, edits=(SetField.model_validate(edit),))

    return cures


def _by_telephone(_: Case, thing: Thing) -> Iterator[Cure]:
    edits = (("means", "telephone"), ("link", None))
    yield Cure(
        title="Use a telephone",
        how="its number on the call sheet",
        edits=tuple(
            SetField.model_validate({"noun": "comms", "id": thing.id, "field": field, "value": value})
            for field, value in edits
        ),
    )


def _minus(case: Case, thing: Thing) -> Iterator[Cure]:
    site = case.site_of(case.devices[thing.id])
    lines = [
        c
        for c in case.plan.comms
        if c.kind == "return" and c.minus is False and case.site_of(case.devices[c.to_device]) is site
    ]
    if lines:
        edits = ({"noun": "comms", "id": c.id, "field": "minus", "value": True} for c in lines)
        yield Cure(
            title="Send a mix-minus",
            how="everything but the guest's own audio",
            edits=tuple(map(SetField.model_validate, edits)),
        )


CURES: Cures = {
    link_leads_nowhere: _published(
        "Attach it to an event", "made ahead, and its link sent out", "event", "scheduled"
    ),
    live_unseen: _published(
        "Have it go live by hand", "after its preview was looked at", "starts", "by-hand"
    ),
    stops_by_itself: _published("Switch auto-stop off", "and end it by hand", "stops_on_drop", False),
    comms_not_carried: _by_telephone,
    comms_apart: _by_telephone,
    hears_himself: _minus,
}
