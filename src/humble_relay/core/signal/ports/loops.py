"""Pictures that come round: a switcher's own picture back at its inputs, and the operators' wall sent to the public."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, fails, holds
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import PUSHES
from humble_relay.core.plan import Device, Link, Stream
from humble_relay.core.plan.vocabulary import ends_of, is_source
from humble_relay.core.signal.flow.propagation import feeds, flow


def _into_mixers(case: Case) -> Iterator[tuple[Thing, tuple[Link, Device]]]:
    for link in case.links.values():
        if case.brings_picture(link) and not link.broken:
            taker = case.devices[ends_of(link)[1]]
            if taker.kind == "switcher":
                yield Thing("link", link.id), (link, taker)


INTO_MIXERS: SubjectKind[tuple[Link, Device]] = SubjectKind(
    "link that brings a picture to a switcher", _into_mixers
)


@analysis
def _own_pictures(case: Case) -> dict[str, set[str]]:
    """For each switcher the devices that its own pictures get to and through. A source and a computer put out a picture
    of their own: what they were given may not be in it."""
    onward, found = feeds(case), dict[str, set[str]]()
    for mixer in (d.id for d in case.devices.values() if d.kind == "switcher"):
        seen, todo = {mixer}, [mixer]
        while todo:
            for after in onward[todo.pop()] - seen:
                device = case.devices[after]
                if not is_source(device) and device.kind != "computer":
                    seen.add(after)
                    todo.append(after)
        found[mixer] = seen
    return found


@check(
    "fed-back", INTO_MIXERS, "signal", "Is it another picture than the one that this box makes itself?",
    "common practice, no source",
)  # fmt: skip
def fed_back(case: Case, what: tuple[Link, Device]) -> Verdict:
    """Whether what comes to a mixer was made by it before: on program it shows itself without end, and its sound howls. It may be meant,
    to measure a path or to play back: a note, and no more."""
    link, mixer = what
    if ends_of(link)[0] not in _own_pictures(case)[mixer.id]:
        return HOLDS
    return holds(
        remark=lambda: Words(
            f"{case.link_name(link.id)} brings {mixer.name} its own picture back.",
            "Cut to that input, and the picture shows itself without end while its sound howls.",
            "Bring the source to that input, or keep it off program and its sound closed.",
        )
    )


@check(
    "multi-view-published", PUSHES, "signal", "Is it a picture for viewers, and not the operators' wall?",
    "common practice, no source",
)  # fmt: skip
def multi_view_published(case: Case, stream: Stream) -> Verdict:
    """Whether a push to a platform carries something else than a multi-view."""
    signal = flow(case).on_link.get(stream.id)
    wall = next((s for s in signal.shows if s.carries == "multi-view"), None) if signal else None
    if wall is None:
        return HOLDS
    return fails(
        lambda: Words(
            f"{stream.name} carries the multi-view of {case.devices[wall.origin].name}.",
            "Viewers see all the cameras at once, with their names and meters.",
            "Take the program to the encoder.",
        )
    )


CHECKS = (fed_back, multi_view_published)
