"""What the Signal stage shows beside its map: sound and canvases; and every link with what it carries and how far."""

from collections.abc import Iterator

from humble_relay.core.catalogue.cables import ONE_WAY, PROTOCOL_WORDS
from humble_relay.core.catalogue.words import CONNECTOR_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Working, number
from humble_relay.core.places.distances import length_words
from humble_relay.core.plan import Cable, Carries, Device, Link, Stream
from humble_relay.core.plan.edits import Edit, SetField, SetPort
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.signal.cabling.runs import Run, runs
from humble_relay.core.signal.flow.canvases import StreamCanvas, canvases
from humble_relay.core.signal.flow.sound import SoundAtEnd, sounds
from humble_relay.core.views.options import Option, Options

PICTURES: tuple[Carries, ...] = ("program", "multi-view", "clean")


class LinkView(Frozen):
    """A link: its ends in words, what is on it and how far it would carry it, and what is chosen at it."""

    link: str
    from_device: str
    to_device: str
    from_name: str
    to_name: str
    sends: str
    """What a stream sends; empty for cables and radio."""
    unlike_the_brief: str
    """That a stream sends another picture than the brief asks for, in words; empty where it does not."""
    format: str
    rate: int | None
    reach: int | None
    """Which of the workings it is; none where nobody said how far an active or optical lead is promised to carry."""
    by_way: str
    """How long the way between its places makes it, in m, or that it is to be measured: where no length of its own is said."""
    by_promise: bool
    """Whether it carries as far as its maker promised: no couplers, no repeaters."""
    has_picture: bool
    """Whether it is there for a picture, and another way for it may be asked for."""
    choices: tuple[Options, ...]


class FreeInput(Frozen):
    """An input that nothing is plugged into, and that shows no stream."""

    port: str
    name: str


class DeviceEnds(Frozen):
    """A device as a way may begin or end there: the pictures it puts out where it has a choice, its free inputs."""

    device: str
    name: str
    pictures: tuple[Carries, ...]
    inputs: tuple[FreeInput, ...]
    mixes: bool


class LinksView(Frozen):
    """Every link, in the plan's order."""

    workings: tuple[Working, ...]
    """The sums that the links refer to: most cables share theirs with others."""
    links: tuple[LinkView, ...]


class SignalView(Frozen):
    """What stands beside the map, which is asked for by itself."""

    ends: tuple[DeviceEnds, ...]
    sounds: tuple[SoundAtEnd, ...]
    canvases: tuple[StreamCanvas, ...]


def signal_view(case: Case) -> SignalView:
    """What the Signal stage shows beside the map."""
    return SignalView(
        ends=tuple(_ends(case, device) for device in case.devices.values()),
        sounds=sounds(case),
        canvases=canvases(case),
    )


def links_view(case: Case) -> LinksView:
    """Every link, with the sums of how far it carries."""
    run = {r.cable.id: r for r in runs(case)}
    at: dict[Working, int] = {}
    links = tuple(_link(case, link, run.get(link.id), at) for link in case.links.values())
    return LinksView(workings=tuple(at), links=links)


def _ends(case: Case, device: Device) -> DeviceEnds:
    shown = {s.input for s in case.streams_to.get(device.id, ())}
    puts_out = {c for p in device.ports if p.way == "out" for c in (p.carries, *p.may_carry)}
    return DeviceEnds(
        device=device.id,
        name=device.name,
        pictures=tuple(c for c in PICTURES if c in puts_out),
        inputs=tuple(
            FreeInput(port=p.id, name=p.name)
            for p in device.ports
            if p.way == "in" and "audio" not in p.types and p.id not in shown
            and f"{device.id}/{p.id}" not in case.join_at
        ),
        mixes=device.kind == "switcher",
    )  # fmt: skip


def _link(case: Case, link: Link, run: Run | None, at: dict[Working, int]) -> LinkView:
    a, b = ends_of(link)

    def sum_of(working: Working | None) -> int | None:
        return None if working is None else at.setdefault(working, len(at))

    return LinkView(
        link=link.id,
        from_device=a,
        to_device=b,
        from_name=case.devices[a].name if isinstance(link, Stream) else case.port_name(link.from_port),
        to_name=case.devices[b].name if isinstance(link, Stream) else case.port_name(link.to_port),
        sends=_sends(link) if isinstance(link, Stream) else "",
        unlike_the_brief=_unlike_the_brief(case, link),
        format=run.format.label if run and run.format else "",
        rate=sum_of(run.rate if run else None),
        reach=sum_of(run.reach if run and (run.cable.rated_m or run.cable.cable not in ONE_WAY) else None),
        by_way="" if isinstance(link, Stream) else length_words(case, link).removesuffix(" m"),
        by_promise=isinstance(link, Cable) and link.cable in ONE_WAY,
        has_picture=case.brings_picture(link),
        choices=tuple(_choices(case, link)),
    )


def _unlike_the_brief(case: Case, link: Link) -> str:
    asked = case.plan.show.format
    if (
        not isinstance(link, Stream)
        or not case.devices[link.to_device].ingest
        or asked in (None, link.format)
    ):
        return ""
    return f"the brief says {asked.label}"


def _sends(stream: Stream) -> str:
    return f"{PROTOCOL_WORDS[stream.protocol]}, {stream.format.label}, {number(stream.video_mbps)} Mb/s"


def _choices(case: Case, link: Link) -> Iterator[Options]:
    """What is to be told at the far end: which socket an input is, or which input shows a stream."""
    if not isinstance(link, Stream):
        port = case.ports[link.to_port]
        if len(port.types) > 1:
            kinds = [("", "not assigned", None), *((t, CONNECTOR_WORDS[t], t) for t in port.types)]
            yield Options(
                what=f"{case.port_name(link.to_port)} is",
                now=port.assigned or "",
                choices=tuple(
                    Option(
                        key=key,
                        words=words,
                        edits=(SetPort(port=link.to_port, field="assigned", value=value),),
                    )
                    for key, words, value in kinds
                ),
            )
        return
    inputs = [p for p in case.devices[link.to_device].ports if p.way == "in" and "network" in p.types]
    if inputs:
        shown = tuple(Option(key=p.id, words=p.name, edits=_shown_on(link, p.id)) for p in inputs)
        none = Option(
            key="", words="no input", edits=(SetField(noun="link", id=link.id, field="input", value=None),)
        )
        yield Options(what=f"Input that shows {link.name}", now=link.input or "", choices=(none, *shown))


def _shown_on(stream: Stream, port: str) -> tuple[Edit, ...]:
    """An input shows a stream once it is told to be a network source, and which."""
    return (
        SetPort(port=f"{stream.to_device}/{port}", field="assigned", value="network"),
        SetField(noun="link", id=stream.id, field="input", value=port),
    )
