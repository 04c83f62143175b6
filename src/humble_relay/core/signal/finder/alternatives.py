"""The route finder: the best few ways from a source to an end, each as edits ready to be tried."""

from collections.abc import Iterator

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.places.distances import length_of
from humble_relay.core.plan import Cable, Carries, Device, Link, Radio, Stream
from humble_relay.core.plan.edits import Edit, Remove
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.plan.vocabulary import MIXERS, VIDEO, ends_of, is_source
from humble_relay.core.signal.finder.route import Route
from humble_relay.core.signal.finder.route_edits import route_of
from humble_relay.core.signal.finder.routing_problem import (
    EFFORT,
    LONG_M,
    PASSING,
    Outlet,
    RoutingProblem,
    Start,
    Unit,
    problem_of,
    to_get,
)
from humble_relay.core.signal.finder.search import MOST_WAYS, varied
from humble_relay.core.signal.finder.steps import connector_of
from humble_relay.core.signal.finder.why_not import why_not
from humble_relay.core.signal.flow.delays import held_back_ms, repeats
from humble_relay.core.signal.flow.propagation import Signal, flow
from humble_relay.core.signal.ports.assignment import group_is_full


class Routes(Frozen):
    """The answer: the ways, cheapest first; and where there is none with what is there, why and what would make one."""

    source: str
    end: str
    routes: tuple[Route, ...]
    why_not: str | None = None


def find_routes(
    case: Case,
    source: str,
    end: str,
    carries: Carries | None = None,
    length_m: float | None = None,
    most: int = MOST_WAYS,
) -> Routes:
    """Ways from a device to a device, each end optionally with its port (`switcher/in-3`).

    `length_m` is the run between the two places where it was measured. For a switcher `carries` says which of its pictures; program unless told. Raises KeyError for an unknown end.
    """
    device, _, out = source.partition("/")
    taker, _, port = end.partition("/")
    if device == taker:
        name = case.devices[device].name
        return Routes(source=name, end=name, routes=(), why_not="Choose two different devices.")
    places = case.devices[device].place, case.devices[taker].place
    on = problem_of(case, taker, port or None, {places: length_m} if length_m else None)
    starts = starts_of(case, device, carries, out or None)
    return _answer(case, on, starts, device, taker, (), most=most)


def reroute(case: Case, link_id: str, avoid: bool = True, most: int = MOST_WAYS) -> Routes:
    """Other ways to do what one link does; with `avoid` the same hop is not made again.

    The whole run the link belongs to comes out first, back to where the picture is still had and on to the box that
    uses it, so that its converters are free to be used again.
    A stream to a platform stays, with its key, and is sent from elsewhere. Raises KeyError when there is no such link.
    """
    link, run = case.links[link_id], run_of(case, link_id)
    if not case.brings_picture(link):
        a, b = (case.devices[end].name for end in ends_of(link))
        return Routes(
            source=a, end=b, routes=(), why_not="No picture runs over it: take it out and plug in another."
        )
    first, last = case.links[run[0]], case.links[run[-1]]
    if ends_of(first)[0] == ends_of(last)[1]:
        name = case.devices[ends_of(first)[0]].name
        why = f"This run begins and ends at {name}: no picture gets in. Take one of its links out."
        return Routes(source=name, end=name, routes=(), why_not=why)
    bare = case.with_plan(
        case.plan.model_copy(update={"links": tuple(x for x in case.plan.links if x.id not in run)})
    )
    giver, taker = ends_of(first)[0], ends_of(last)[1]
    prefer = last.input if isinstance(last, Stream) else last.to_port.split("/")[1]
    places = case.devices[ends_of(link)[0]].place, case.devices[ends_of(link)[1]].place
    metres = 0.0 if isinstance(link, Stream) else length_of(case, link)
    lengths = {places: metres} if metres and (places[0] != places[1] or metres > LONG_M) else {}
    on = problem_of(bare, taker, lengths=lengths, prefer=prefer)
    if isinstance(link, Radio):
        on = on._replace(air=on.lengths)
    if avoid:
        on = on._replace(avoid=frozenset([("hop", _hop_name(link))]))
    out = None if isinstance(first, Stream) else first.from_port.split("/")[1]
    found = flow(case)
    signal = found.on_link.get(first.id) or found.on_port.get(getattr(first, "from_port", ""))
    starts = starts_of(bare, signal.origin, signal.carries) if signal else []
    if signal is None or signal.origin != giver:
        more = starts_of(bare, giver, signal.carries if signal else None, out)
        starts += [s for s in more if s not in starts]
    kept = last.id if isinstance(last, Stream) and case.devices[taker].ingest else None
    removed = tuple(Remove(noun="link", id=id) for id in run if id != kept)
    return _answer(bare, on, starts, giver, taker, removed, kept, most)


def run_of(case: Case, link_id: str) -> list[str]:
    """The links of one run, in order: through every box on the way that only hands this picture on, each once."""
    onward, back, seen = [link_id], list[str](), {link_id}
    for way, side in ((onward, 1), (back, 0)):
        at: str | None = link_id
        while at is not None:
            step = _only(case, ends_of(case.links[at])[side], seen)
            at = step[side] if step else None
            if at is not None:
                way.append(at)
                seen.add(at)
    return [*reversed(back), *onward]


def _only(case: Case, device: str, seen: set[str]) -> tuple[str | None, str | None] | None:
    """The one link into and the one out of a box that hands on; None where it does more, or has settings to lose."""
    if case.devices[device].kind not in PASSING or case.devices[device].kind == "encoder":
        return None
    into, out = picture_links(case)[device]
    if len(into) > 1 or len(out) > 1:
        return None
    return next((x for x in into if x not in seen), None), next((x for x in out if x not in seen), None)


@analysis
def picture_links(case: Case) -> dict[str, tuple[list[str], list[str]]]:
    """For every device, the links that bring it picture and those that take picture from it, broken ones too."""
    found: dict[str, tuple[list[str], list[str]]] = {id: ([], []) for id in case.devices}
    for link in case.links.values():
        if case.brings_picture(link):
            giver, taker = ends_of(link)
            found[taker][0].append(link.id)
            found[giver][1].append(link.id)
    return found


def _hop_name(link: Link) -> str:
    if isinstance(link, Stream):
        return f"{link.from_device}/>{link.to_device}/{link.input or ''} by {link.protocol}"
    return f"{link.from_port}>{link.to_port} by {link.cable if isinstance(link, Cable) else 'radio'}"


def starts_of(
    case: Case, device_id: str, carries: Carries | None = None, port: str | None = None
) -> list[Start]:
    """Every exit where the device's own picture can be had: free outputs, loops and splitters on the way, streams,
    and occupied outputs that a splitter would free."""
    device = case.devices[device_id]
    wanted: Carries = carries or ("picture" if is_source(device) or _passes(device) else "program")
    found = []
    for ref, signal in _signals_of(case, device, wanted).items():
        holder = case.devices[ref.split("/")[0]]
        box = Unit(holder.id, holder, holder.place)
        if "/" not in ref:
            left = holder.encoding.destinations - len(case.streams_from[holder.id]) if holder.encoding else 0
            if left > 0 and port is None and signal.format:
                came = (held_back_ms(case, s, holder) for s in case.streams_to.get(holder.id, ()))
                held = max(came, default=0.0)
                found.append(Start(Outlet(box, None, signal.format, signal.protected is not None, held)))
            continue
        out = case.ports[ref]
        if (port is not None and ref != f"{device_id}/{port}") or signal.format is None:
            continue
        if ref not in case.join_at and group_is_full(case, holder, out):
            continue
        exit = Outlet(box, out, signal.format, signal.protected is not None)
        if ref in case.join_at and out.carries in ("picture", "loop", signal.carries):
            found += _taps(case, exit, ref)
        elif ref not in case.join_at:
            retold = signal.carries if out.may_carry and out.carries != signal.carries else None
            found.append(Start(exit, EFFORT["change"] if retold else 0.0, retold=retold))
    return found


def _passes(device: Device) -> bool:
    mixes = any(p.carries in ("program", "multi-view", "clean") for p in device.ports)
    return not mixes and device.kind not in MIXERS


def _signals_of(case: Case, device: Device, wanted: Carries) -> dict[str, Signal]:
    """Where the wanted picture of a device stands: by output port, or by device for what it can stream."""
    on_port = flow(case).on_port
    fallback = case.plan.show.format or VideoFormat(width=1920, height=1080, rate="50")
    outs = [p for p in device.ports if p.way == "out" and p.carries != "loop"]
    ports = outs or [p for p in device.ports if p.way == "in"]
    here = next((s for p in ports if (s := on_port.get(f"{device.id}/{p.id}"))), None)
    if here is None:
        here = Signal(device.produces or fallback, device.id, wanted, frozenset())
    found: dict[str, Signal] = {}
    for port in device.ports:
        if port.way != "out" or not VIDEO & set(port.types) or port.carries == "loop":
            continue
        signal = on_port.get(f"{device.id}/{port.id}", here)
        if port.carries in ("picture", wanted) or wanted in port.may_carry:
            fmt = port.produces or signal.format
            carried = wanted if port.carries != "picture" else signal.carries
            found[f"{device.id}/{port.id}"] = signal._replace(carries=carried, format=fmt)
    if device.encoding and wanted != "multi-view":
        found[device.id] = here
    if here.origin == device.id:
        for ref, signal in on_port.items():
            port = case.ports[ref]
            if port.way == "out" and (signal.origin, signal.carries) == (device.id, wanted):
                found.setdefault(ref, signal)
                holder = case.device_of(ref)
                if holder.encoding and _passes(holder):
                    found.setdefault(holder.id, signal)
    for id, arriving in flow(case).arriving.items():
        holder = case.devices[id]
        if repeats(holder):
            came = next((s for s in arriving.values() if _is_of(s, device, wanted)), None)
            if came:
                found.setdefault(id, came)
    return found


def _is_of(signal: Signal, device: Device, wanted: Carries) -> bool:
    """Whether a picture is the wanted one of a device, or went through it where it only hands on."""
    return (signal.origin, signal.carries) == (device.id, wanted) or (
        _passes(device) and device.id in signal.through
    )


def _taps(case: Case, exit: Outlet, ref: str) -> Iterator[Start]:
    """A splitter put into the cable that occupies an output."""
    cable = case.join_at[ref]
    if not isinstance(cable, Cable) or exit.port is None or cable.from_port != ref:
        return
    connector = connector_of(cable.cable)
    for model in case.models.values():
        outs = [p for p in model.device.ports if p.way == "out" and connector in p.types]
        if model.device.kind != "distribution" or len(outs) < 2:
            continue
        lacking = to_get(case, model.device)
        cost = EFFORT["box"] + (EFFORT["to get"] if lacking else 0) + 2 * EFFORT["metre"]
        box = Unit(f"{model.id}@{exit.box.place}", model.device, exit.box.place, True, lacking)
        yield Start(Outlet(box, outs[1], exit.format, exit.protected), cost, cable.id)


def _answer(
    case: Case,
    on: RoutingProblem,
    starts: list[Start],
    giver: str,
    taker: str,
    first: tuple[Edit, ...],
    kept: str | None = None,
    most: int = MOST_WAYS,
) -> Routes:
    source, end = case.devices[giver], case.devices[taker]
    paths = varied(on, starts, most) if on.ends else []
    routes = [route_of(case, path, giver, first, kept) for path in paths]
    ready = [r for r in routes if not r.to_get]
    why = None
    if not ready:
        why = why_not(on, source, end, starts, routes)
    return Routes(source=source.name, end=end.name, routes=tuple(ready or routes[:2]), why_not=why)
