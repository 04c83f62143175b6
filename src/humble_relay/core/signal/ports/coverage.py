"""Where pictures begin and end: sources that reach nothing, aims that are not met, overlays left on."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    wants,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import port_of
from humble_relay.core.plan import ENDS, SCREENS, Aim, Device, Port
from humble_relay.core.plan.vocabulary import MIXERS, ends_of, is_source
from humble_relay.core.signal.flow.propagation import Signal, feeds, flow

SOURCES: SubjectKind[Device] = SubjectKind(
    "source of a picture",
    lambda case: ((Thing("device", d.id), d) for d in case.devices.values() if is_source(d)),
)
UNASKED_ENDS: SubjectKind[Device] = SubjectKind(
    "screen, recorder or platform that nobody asked a picture for",
    lambda case: (
        (Thing("device", d.id), d)
        for d in case.devices.values()
        if d.kind in ENDS and d.id not in {a.end for a in case.plan.aims}
    ),
)
AIMS: SubjectKind[Aim] = SubjectKind("aim", lambda case: ((Thing("aim", a.id), a) for a in case.plan.aims))
OVERLAYS: SubjectKind[tuple[str, Port]] = SubjectKind(
    "output that may have its menus on",
    lambda case: ((port_of(ref), (ref, p)) for ref, p in case.ports.items() if p.overlay is not None),
)


def _beyond(case: Case, source: str) -> set[str]:
    """The devices that a source's picture can get to along the links, itself among them."""
    onward = feeds(case)
    seen, todo = {source}, [source]
    while todo:
        for after in onward[todo.pop()] - seen:
            seen.add(after)
            todo.append(after)
    return seen


@check(
    "source-goes-nowhere", SOURCES, "signal", "Does its picture reach a screen, a recorder or a platform?",
    "common practice, no source",
)  # fmt: skip
def source_goes_nowhere(case: Case, device: Device) -> Verdict:
    """Whether the picture of a camera, phone or laptop reaches anybody."""
    seen = _beyond(case, device.id)
    if any(case.devices[d].kind in ENDS for d in seen):
        return HOLDS

    def say() -> Words:
        onward = feeds(case)
        last = [case.devices[d].name for d in ([d for d in seen if not onward[d]] or seen)]
        stuck = f"it stops at {', '.join(sorted(last))}" if len(seen) > 1 else "nothing is plugged into it"
        return Words(
            f"{device.name} reaches no screen, recorder or platform: {stuck}.",
            "The camera is carried, powered and manned for nobody.",
            "Get it to an input (type its name, to, and where), or leave it at home.",
        )

    return doubtful(say)


@check(
    "screen-gets-nothing", UNASKED_ENDS, "signal", "Does any picture arrive?", "common practice, no source"
)  # fmt: skip
def screen_gets_nothing(case: Case, device: Device) -> Verdict:
    """Whether a picture arrives at a screen, recorder or platform that no aim is about."""
    if flow(case).arriving[device.id]:
        return HOLDS
    drawn = any(
        device.id == ends_of(link)[1]
        for link in case.plan.links
        if case.brings_picture(link) and not link.broken
    )
    say = lambda: _nothing(device)  # noqa: E731
    return fails(say) if drawn or device.kind == "recorder" else doubtful(say)


def _nothing(device: Device) -> Words:
    empty = (
        "Viewers find an empty page."
        if device.kind == "platform"
        else "The room looks at a logo, or nothing is recorded."
    )
    return Words(
        f"{device.name} gets no picture.", empty, "Get the program to it, or take it out of the plan."
    )


@analysis
def _brought_to(case: Case) -> set[str]:
    """The boxes that a link brings a picture to, broken or not."""
    picture = (x for x in case.plan.links if case.brings_picture(x))
    return {ends_of(link)[1] for link in picture}


def _passing_on(case: Case) -> Iterator[tuple[Thing, Device]]:
    """Boxes that are to hand a picture on, and make none."""
    onward = feeds(case)
    for device in case.devices.values():
        if onward[device.id] and not is_source(device):
            yield Thing("device", device.id, "in"), device


PASSING_ON: SubjectKind[Device] = SubjectKind("box that hands a picture on", _passing_on)


@check(
    "nothing-plugged-in", PASSING_ON, "signal", "Is anything plugged into it that it could hand on?",
    "common practice, no source",
)  # fmt: skip
def nothing_plugged_in(case: Case, device: Device) -> Verdict:
    """Whether any link brings a picture to a box that is drawn to hand one on. A computer may have one of its own."""
    if device.id in _brought_to(case):
        return HOLDS  # what is wrong with that link is its own question

    def say() -> Words:
        after = ", ".join(sorted(case.devices[d].name for d in feeds(case)[device.id]))
        return Words(
            f"Nothing is plugged into {device.name}, which is to hand a picture on to {after}.",
            "It runs, its lamp is green, and it hands on black.",
            "Bring it a picture: type the source's name, to, and its name.",
        )

    return doubtful(say) if device.kind == "computer" else fails(say)


def meets(aim: Aim, signal: Signal) -> bool:
    """Whether a picture is the one that was asked for, or shows that alone."""
    carried = ("picture", "loop") if aim.picture == "source" else (aim.picture,)
    return any(s.carries in carried and aim.of in (None, s.origin) for s in signal.shows)


@check(
    "aim-not-met", AIMS, "signal", "Does the picture that was asked for arrive at its end?", "the brief"
)  # fmt: skip
def aim_not_met(case: Case, aim: Aim) -> Verdict:
    """Whether the picture of an aim arrives at its end, whatever may be doubtful on the way."""
    arriving = flow(case).arriving[aim.end]
    if any(meets(aim, signal) for signal in arriving.values()):
        return HOLDS

    def say() -> Words:
        end = case.devices[aim.end]
        if not arriving:
            return _nothing(end)
        asked = f"the {aim.picture}" if aim.picture != "source" else "one source's picture"
        whose = f" of {case.devices[aim.of].name}" if aim.of else ""
        got = next(iter(arriving.values()))
        is_it = got.carries if got.carries != "picture" else "picture"
        return Words(
            f"{end.name} is to get {asked}{whose} and gets the {is_it} of {case.devices[got.origin].name}.",
            "Viewers there see the wrong picture, and nobody at the desk notices.",
            "Patch the picture that was asked for, or change what is asked.",
        )

    return fails(say) if aim.need == "needed" else doubtful(say)


@analysis
def _goes_to(case: Case) -> dict[str, str]:
    """For each output whose overlay is on, the first box that mixes, shows, records or sends its picture."""
    found: dict[str, str] = {}
    for id, signals in flow(case).arriving.items():
        if case.devices[id].kind in (*MIXERS, *SCREENS, "encoder", "platform"):
            for signal in signals.values():
                if signal.overlay:
                    found.setdefault(signal.overlay, id)
    return found


@check(
    "overlay-left-on", OVERLAYS, "signal", "Are its menus and framing marks off the picture that is used?",
    "common practice, no source",
)  # fmt: skip
def overlay_left_on(case: Case, what: tuple[str, Port]) -> Verdict:
    """Whether an output's menus are burnt into a picture that is mixed, recorded, shown or sent."""
    ref, port = what
    end = _goes_to(case).get(ref)
    if end is None:
        return HOLDS
    if port.overlay == "not-known":
        off = (Choice(value="off", words="off"), Choice(value="on", words="on"))
        return wants(
            Want(
                port_of(ref),
                "overlay",
                f"Are the menus off the picture of {case.port_name(ref)}?",
                choices=off,
            )
        )
    return doubtful(
        lambda: Words(
            f"{case.port_name(ref)} has its menu overlay on, and goes to {case.devices[end].name}.",
            "Viewers see the battery gauge and the focus frame.",
            "Switch the overlay off on that output: often a menu entry called info or clean output.",
        ),
        compared=(end,),
    )


def unasked_ways(case: Case) -> Iterator[Device]:
    """The ends that a picture arrives at without anybody having asked for it."""
    asked = {a.end for a in case.plan.aims}
    arriving = flow(case).arriving
    return (d for d in case.devices.values() if d.kind in ENDS and d.id not in asked and arriving[d.id])


CHECKS = (source_goes_nowhere, screen_gets_nothing, nothing_plugged_in, aim_not_met, overlay_left_on)
