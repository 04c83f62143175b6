"""Where a picture can be looked at, and what it proves that it is seen there: what lies on the one path that it certainly took."""

from collections.abc import Iterator
from hashlib import blake2s
from typing import NamedTuple

from humble_relay.core.egress.outbound import on_the_internet
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan import ENDS, Device, Link, Stream
from humble_relay.core.plan.vocabulary import MIXERS, VIDEO, ends_of
from humble_relay.core.setup.setup_list import setup_list


class Hop(NamedTuple):
    """One link of a path, in the order of the signal, with the sockets at its ends (`device/port`; of a stream perhaps none)."""

    link: str
    giver: str
    taker: str
    sockets: tuple[str, ...]


class SeenPicture(Frozen):
    """A picture that can be looked at: at an input of a mixer, on a screen, at a service's preview."""

    id: str
    """`device/port`, or `device:stream` where it comes into no socket."""
    device: str
    at: str
    """Where it is looked at, in words."""
    hops: tuple[Hop, ...]
    """The path that it certainly took, from where it began, or where what it is of was chosen."""
    proves: tuple[str, ...]
    """The steps that are right where it is seen, each shown by a picture."""
    needs: tuple[str, ...]
    """The steps without which it proves nothing: software that was told no camera shows its own, and it looks nearly right."""
    stamp: str
    """Changes with the path."""


@analysis
def seen_pictures(case: Case) -> tuple[SeenPicture, ...]:
    """Every place where a picture can be looked at, in the plan's order.

    A path ends, upstream, where the device before it may show one of several pictures, or one of its own: a mixer, a service on the
    internet (which may show a slate), a device with more than one picture coming in. Nothing before that is proven.
    """
    shown = [s for s in setup_list(case) if s.shown_by == "picture"]
    by_place: dict[str, list[str]] = {}
    for step in shown:
        for at in step.at:
            by_place.setdefault(at, []).append(step.id)
    told: dict[str, list[str]] = {}
    for step in setup_list(case):
        for at in step.at if step.kind == "capture-picked" else ():
            told.setdefault(at, []).append(step.id)
    found = []
    for device in case.devices.values():
        if not _is_looked_at(case, device):
            continue
        for link in _coming_in(case, device):
            hops = tuple(reversed(list(_back(case, link))))
            places = dict.fromkeys(at for hop in hops for at in (hop.link, *hop.sockets))
            proves = dict.fromkeys(id for at in places for id in by_place.get(at, ()))
            into = _into(link)
            named = case.ports[into].name if into in case.ports else case.link_name(link.id)
            found.append(
                SeenPicture(
                    id=into if into in case.ports else f"{device.id}:{link.id}",
                    device=device.id,
                    at=f"{device.name}, {named}",
                    hops=hops,
                    proves=tuple(proves),
                    needs=tuple(told.get(into, ())),
                    stamp=blake2s(repr(hops).encode(), digest_size=6).hexdigest(),
                )
            )
    return tuple(found)


def _is_looked_at(case: Case, device: Device) -> bool:
    """Whether a picture can be looked at there: on a multi-view, a screen, a service's preview, or a decoder that leads to no screen."""
    if device.kind in MIXERS or device.kind in ENDS or on_the_internet(device):
        return True
    onward = (case.join_at.get(f"{device.id}/{p.id}") for p in device.ports if VIDEO & set(p.types))
    return device.kind == "decoder" and not any(j and ends_of(j)[0] == device.id for j in onward)


def _coming_in(case: Case, device: Device) -> list[Link]:
    """The links that bring the device a picture, those into its sockets first, in the order of the sockets."""
    joins = (case.join_at.get(f"{device.id}/{p.id}") for p in device.ports if VIDEO & set(p.types))
    cables: list[Link] = [j for j in joins if j and ends_of(j)[1] == device.id and case.brings_picture(j)]
    return [*cables, *case.streams_to.get(device.id, ())]


def _into(link: Link) -> str:
    if isinstance(link, Stream):
        return f"{link.to_device}/{link.input}" if link.input else ""
    return link.to_port


def _back(case: Case, link: Link) -> Iterator[Hop]:
    """The hops of a path, the last one first, as far back as it is certain."""
    walked: set[str] = set()
    while link.id not in walked:
        walked.add(link.id)
        giver, taker = ends_of(link)
        sockets = (_into(link),) if isinstance(link, Stream) else (link.from_port, link.to_port)
        yield Hop(link.id, giver, taker, tuple(filter(None, sockets)))
        before = case.devices[giver]
        coming = _coming_in(case, before)
        if before.kind in MIXERS or on_the_internet(before) or len(coming) != 1:
            return
        link = coming[0]
