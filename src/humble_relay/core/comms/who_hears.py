"""Who must hear whom for this show to work: far guests, and operators who move about."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import (
    HOLDS,
    YES_NO,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    holds,
    wants,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import CommsLink, Device, Site
from humble_relay.core.plan.vocabulary import MIXERS, ends_of, is_source


@analysis
def desk_of(case: Case) -> Device | None:
    """Where the show is cut: the mixer that most links lead to."""
    into = [ends_of(link)[1] for link in case.links.values()]
    mixers = [d for d in case.devices.values() if d.kind in MIXERS and into.count(d.id)]
    return max(mixers, key=lambda d: (d.kind == "switcher", into.count(d.id)), default=None)


class FarGuest(NamedTuple):
    """The device of a far participant, and the site where they are."""

    device: Device
    site: Site


def _far_guests(case: Case) -> Iterator[tuple[Thing, FarGuest]]:
    """Of each picture that is talked back to: the end of it that is not at the desk."""
    desk = desk_of(case)
    at_desk = case.site_of(desk) if desk else None
    found: dict[str, FarGuest] = {}
    for aim in case.plan.aims if at_desk else ():
        if aim.liveness != "talked-back":
            continue
        for id in (aim.of, aim.end):
            device = case.devices.get(id or "")
            site = case.site_of(device) if device else None
            if device and site and site is not at_desk and device.ingest is None:
                found.setdefault(site.id, FarGuest(device, site))
    return ((Thing("device", g.device.id, "hears"), g) for g in found.values())


FAR_GUESTS: SubjectKind[FarGuest] = SubjectKind("far end that is talked with", _far_guests)


def _lines_to(case: Case, guest: FarGuest) -> list[CommsLink]:
    return [
        c for c in case.plan.comms
        if c.kind in ("return", "talk-back", "cues") and case.site_of(case.devices[c.to_device]) is guest.site
    ]  # fmt: skip


@analysis
def _program_to(case: Case) -> frozenset[str]:
    """The sites that a picture is sent to from elsewhere."""
    found = set()
    for stream in case.streams:
        here, there = (case.site_of(case.devices[d]) for d in (stream.from_device, stream.to_device))
        if there and here is not there:
            found.add(there.id)
    return frozenset(found)


@check(
    "guest-unheard", FAR_GUESTS, "signal", "Does the far end hear what is said to it?", "common practice, no source", "practice", tried=True,
)  # fmt: skip
def guest_unheard(case: Case, guest: FarGuest) -> Verdict:
    """Whether anything brings sound to it: a comms line, by telephone too, or a picture of the show with its sound."""
    if _lines_to(case, guest) or guest.site.id in _program_to(case):
        return HOLDS
    return doubtful(
        lambda: Words(
            f"Nothing says how {guest.site.name} hears the desk.",
            "A guest who hears nothing waits, or talks over the others.",
            "Say by what: a return feed, or a telephone with its number.",
        )
    )


@check(
    "hears-himself", FAR_GUESTS, "signal", "Is a far guest's own audio left out of the audio sent back to the guest?",
    "ITU-T G.131 (talker echo); common practice", "practice", tried=True,
)  # fmt: skip
def hears_himself(case: Case, guest: FarGuest) -> Verdict:
    """Whether what comes back is a mix-minus: one's own voice late is an echo that nobody can talk against. A telephone has none of it, and
    neither has a line that only cues go by."""
    lines = _lines_to(case, guest)
    returns = [c for c in lines if c.kind == "return"]
    wrong = next((c for c in returns if c.minus is False), None)
    if wrong:
        return doubtful(
            lambda: Words(
                f"The return feed to {guest.site.name} has the guest's own audio in it.",
                "The guest hears each word again, late: nobody can talk against that.",
                "Send a mix-minus: everything but what comes from there.",
            )
        )
    open_ = next((c for c in returns if c.minus is None and c.means != "telephone"), None)
    if open_:
        asked = f"Is the audio of {guest.site.name} left out of the return feed to it (mix-minus)?"
        return wants(Want(Thing("comms", open_.id), "minus", asked, choices=YES_NO))
    if lines or guest.site.id not in _program_to(case):
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{guest.site.name} gets program, and nothing says that its own audio is left out.",
            "With the sound up, the guest hears each word again, late.",
            "Add a return feed without it (mix-minus), or talk by telephone and leave that screen silent.",
        )
    )


class Roving(NamedTuple):
    """A camera whose operator moves about, and the wireless link that its picture takes."""

    camera: Device
    link: str


def _roving(case: Case) -> Iterator[tuple[Thing, Roving]]:
    """Cameras by wireless video into a show that is cut: there is nobody else to be told."""
    desk = desk_of(case)
    sources = {ends_of(x)[0] for x in case.links.values() if is_source(case.devices[ends_of(x)[0]])}
    if desk is None or len(sources) < 2:
        return
    givers = {ends_of(x)[1]: ends_of(x)[0] for x in case.joins}
    for radio in case.radios:
        sender = ends_of(radio)[0]
        camera = case.devices[givers.get(sender, sender)]
        if camera.kind == "camera":
            yield Thing("device", camera.id, "cues"), Roving(camera, radio.id)


ROVING: SubjectKind[Roving] = SubjectKind("camera by wireless video in a show that is cut", _roving)


@check(
    "no-cues", ROVING, "signal", "Does a roving operator get cues?", "common practice, no source", "practice"
)
def no_cues(case: Case, what: Roving) -> Verdict:
    """Whether the operator can be told: a note where nobody said how, for the kit itself carries no tally."""
    told = ("cues", "talk-back", "tally")
    ends = {what.camera.id, ends_of(case.links[what.link])[0]}
    if any(c.kind in told and ends & {c.to_device, c.from_device} for c in case.plan.comms):
        return HOLDS
    return holds(
        remark=lambda: Words(
            f"Nothing says how the operator of {what.camera.name} gets cues; the wireless link carries no tally.",
            "The operator moves while on air, and waits while nobody is looking.",
            "Say it in Signal, under who hears whom: a telephone, a radio, or a second person who signs.",
        )
    )


CHECKS = (guest_unheard, hears_himself, no_cues)
