"""What may mend a picture that does not arrive, or is not the one that was asked for: another source or way, or another question."""

from collections.abc import Iterator

from humble_relay.core.cures.cure import Cure, Cures, set_link
from humble_relay.core.cures.signal_cures import another_way
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.plan import Aim, Carries, Stream
from humble_relay.core.plan.edits import SetField, SetPort
from humble_relay.core.plan.vocabulary import MIXERS, ends_of, is_source
from humble_relay.core.signal.finder.alternatives import find_routes
from humble_relay.core.signal.finder.plain_cables import plain_cables
from humble_relay.core.signal.flow.propagation import Signal, flow
from humble_relay.core.signal.flow.tracing import paths_to
from humble_relay.core.signal.ports.aim_delivery import below_the_lowest, sound_not_there
from humble_relay.core.signal.ports.coverage import aim_not_met, meets, nothing_plugged_in
from humble_relay.core.signal.ports.loops import multi_view_published
from humble_relay.core.timing.lateness import later_than_asked

_SOURCES, _BOXES_BACK = 3, 8
"""Of how many sources ways are looked for (each is a search), and how many boxes back an output is looked for."""


def _aim(case: Case, thing: Thing) -> Aim:
    return next(a for a in case.plan.aims if a.id == thing.id)


def _brought(case: Case, source: str, end: str, carries: Carries | None = None) -> Iterator[Cure]:
    """The ways from a device to an end, those that need nothing got first."""
    for route in find_routes(case, source, end, carries).routes:
        title = f"Bring it from {case.devices[source].name}, {route.short}"
        needs = listed(f"a {model}" for model in (*route.to_get, *route.boxes))
        yield Cure(title=title, how=route.title, needs=needs, edits=route.edits)


def _delivered(case: Case, thing: Thing) -> Iterator[Cure]:
    """The question put to what arrives, where that is one source's picture and no box mixes; else ways of what was asked for."""
    aim = _aim(case, thing)
    mixers = [d.id for d in case.devices.values() if d.kind in MIXERS]
    for signal in flow(case).arriving[aim.end].values():
        if not mixers:
            yield from _asked_of(case, aim, signal)
    if aim.picture == "source":
        sources = [aim.of] if aim.of else [d.id for d in case.devices.values() if is_source(d)]
    else:
        sources = [aim.of] if aim.of else mixers
    carries = None if aim.picture == "source" else aim.picture
    for source in sources[:_SOURCES]:
        if source != aim.end:
            yield from _brought(case, source, aim.end, carries)
    if mixers:
        for signal in flow(case).arriving[aim.end].values():
            yield from _asked_of(case, aim, signal)


def _asked_of(case: Case, aim: Aim, signal: Signal) -> Iterator[Cure]:
    """The picture that arrives asked for, in place of another."""
    if signal.carries in ("picture", "loop") and signal.origin in case.devices:
        edits = (_of_aim(aim, "picture", "source"), _of_aim(aim, "of", signal.origin))
        yield Cure(title=f"Ask for the picture of {case.devices[signal.origin].name}", needs="the one who asked for it", edits=edits)  # fmt: skip


def _of_aim(aim: Aim, field: str, value: object) -> SetField:
    return SetField.model_validate({"noun": "aim", "id": aim.id, "field": field, "value": value})


def _large_enough(case: Case, thing: Thing) -> Iterator[Cure]:
    """The streams on the way, and the box that makes the picture, told to make the one that was promised; or less asked for."""
    aim = _aim(case, thing)
    assert aim.lowest
    wanted = aim.lowest.model_dump(mode="json")
    arriving = [s for s in flow(case).arriving[aim.end].values() if meets(aim, s) and s.format]
    ways = list(paths_to(case, aim.end, lambda signal: meets(aim, signal)))
    streams = {link: case.links[link] for _, links in ways for link in links if isinstance(case.links[link], Stream)}  # fmt: skip
    on_the_way = tuple(set_link(id, "format", wanted) for id, s in streams.items() if isinstance(s, Stream) and s.format != aim.lowest)  # fmt: skip
    if on_the_way:
        yield Cure(title=f"Send {aim.lowest.label}", edits=on_the_way)
    makers = dict.fromkeys(s.origin for s in arriving)
    for maker in makers:
        if maker in case.devices and case.devices[maker].produces:
            made = SetField(noun="device", id=maker, field="produces", value=wanted)
            yield Cure(
                title=f"Set {case.devices[maker].name} to {aim.lowest.label}", edits=(made, *on_the_way)
            )
    for signal in arriving[:1]:
        assert signal.format
        less = _of_aim(aim, "lowest", signal.format.model_dump(mode="json"))
        yield Cure(
            title=f"Ask for {signal.format.label} at least", needs="the one who asked for more", edits=(less,)
        )


def _fed(case: Case, thing: Thing) -> Iterator[Cure]:
    """What makes a picture and goes nowhere yet first, then what mixes one, then the rest."""
    sources = [d for d in case.devices.values() if d.id != thing.id and (is_source(d) or d.kind in MIXERS)]
    sent = {ends_of(link)[0] for link in case.plan.links if case.brings_picture(link)}
    after = {ends_of(link)[1] for link in case.plan.links if ends_of(link)[0] == thing.id}
    for device in sorted(sources, key=lambda d: (d.id in sent, d.kind not in MIXERS, d.id in after))[
        :_SOURCES
    ]:
        yield from _brought(case, device.id, thing.id)


def _program_published(case: Case, thing: Thing) -> Iterator[Cure]:
    """The output that has the multi-view told to carry the program."""
    stream = case.links[thing.id]
    at, seen = ends_of(stream)[0], set[str]()
    for _ in range(_BOXES_BACK):
        feeding = [join for d in (at,) for p in case.devices[d].ports if p.way == "in" and (join := case.join_at.get(f"{d}/{p.id}"))]  # fmt: skip
        wall = next((j for j in feeding if case.ports[j.from_port].carries == "multi-view"), None)
        if wall:
            edit = SetPort(port=wall.from_port, field="carries", value="program")
            yield Cure(title=f"Put the program on {case.port_name(wall.from_port)}", needs="the output's setting", edits=(edit,))  # fmt: skip
            break
        seen.add(at)
        before = [ends_of(j)[0] for j in feeding if ends_of(j)[0] not in seen]
        if not before:
            break
        at = before[0]
    for mixer in [d.id for d in case.devices.values() if d.kind in MIXERS][:_SOURCES]:
        yield from _brought(case, mixer, ends_of(stream)[0], "program")


def _quicker(case: Case, thing: Thing) -> Iterator[Cure]:
    """Other ways than its streams and radios that take longest."""
    aim = _aim(case, thing)
    for _, links in paths_to(case, aim.end, lambda signal: meets(aim, signal)):
        for link in links:
            if isinstance(case.links[link], Stream):
                yield from another_way(case, Thing("link", link))


def _heard(case: Case, thing: Thing) -> Iterator[Cure]:
    """A microphone on the way opened, or a desk's line brought into a box on the way."""
    aim = _aim(case, thing)
    arriving = [s for s in flow(case).arriving[aim.end].values() if meets(aim, s)]
    on_the_way = dict.fromkeys(d for s in arriving for d in (*s.through, s.origin, *sorted(s.sources)))
    for id in on_the_way:
        mic = case.devices[id].microphone if id in case.devices else None
        if mic and mic.muted:
            edit = SetField(noun="device", id=id, field="microphone.muted", value=False)
            yield Cure(title=f"Open the microphone of {case.devices[id].name}", edits=(edit,))
    for desk in [d for d in case.devices.values() if d.kind == "sound-desk"]:
        for id in (d for d in on_the_way if d in case.devices and d != desk.id):
            for joint in plain_cables(case, desk.id, id):
                yield Cure(title=f"Bring {desk.name} into {case.devices[id].name}", how=joint.title, edits=joint.edits)  # fmt: skip


CURES: Cures = {
    aim_not_met: _delivered,
    below_the_lowest: _large_enough,
    sound_not_there: _heard,
    nothing_plugged_in: _fed,
    multi_view_published: _program_published,
    later_than_asked: _quicker,
}
