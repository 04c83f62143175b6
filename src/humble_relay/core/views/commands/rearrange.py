"""`rename X to Y`, `remove X`, `move X to P`, a new place, a distance, mains, a port forward, a measurement."""

import re
from collections.abc import Iterator

from humble_relay.core.frozen import free_id, free_name
from humble_relay.core.judging.case import Case
from humble_relay.core.places.distances import span_between
from humble_relay.core.plan import Cable, Place, Router, Span, Uplink
from humble_relay.core.plan.edits import Edit, Remove, SetField, added
from humble_relay.core.plan.edits.amounts import amount_in
from humble_relay.core.plan.networks import LineKind
from humble_relay.core.plan.survey import Measurement
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import Named, fits, named
from humble_relay.core.views.commands.quantities import rate_in


def renamed(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """`rename birch to birch two`; without `to`, the shortest name that is there."""
    found = re.fullmatch(r"(?:rename|call) (.+)", text)
    if not found:
        return
    rest = found.group(1)
    cased = line.strip()[-len(rest) :]
    for at in [m.start() for split in (" to ", " ") for m in re.finditer(split, rest)]:
        before, new = rest[:at], cased[at:].strip().removeprefix("to ")
        things = [
            t
            for t in named(case, before, ("device", "place", "uplink", "network", "site", "router", "link"))
            if not isinstance(case.links.get(t.id), Cable) or t.noun != "link"
        ]
        if things and new:
            name = new[:1].upper() + new[1:]
            for thing in things:
                yield Alternative(
                    title=f"Call {thing.name} {name}",
                    edits=(SetField(noun=thing.noun, id=thing.id, field="name", value=name),),
                    pick=f"{thing.noun}:{thing.id}",
                )
            if " to " in rest[at : at + 4] or len(things) == 1:
                return


def taken_out(case: Case, text: str) -> Iterator[Alternative]:
    """`remove quay camera`, `unplug deck camera`: a thing with what hangs on it, or its cables alone."""
    found = re.fullmatch(r"(remove|delete|take out|drop|unplug|disconnect|lose) (.+)", text)
    if not found:
        return
    verb, words = found.groups()
    if verb in ("unplug", "disconnect"):
        devices = {t.id for t in named(case, words, ("device",))}
        for id, link in case.links.items():
            if devices & set(ends_of(link)) or fits(words, case.link_name(id)):
                yield _without(Named("link", id, case.link_name(id)))
        return
    for thing in named(case, words):
        yield _without(thing)


def _without(thing: Named) -> Alternative:
    return Alternative(title=f"Take out {thing.name}", edits=(Remove(noun=thing.noun, id=thing.id),))


def moved(case: Case, text: str) -> Iterator[Alternative]:
    """`move quay camera to net loft`, `quay camera at boathouse`."""
    found = re.fullmatch(r"(?:move |put )(.+?) (?:to|at|in|into|on) (.+)", text) or re.fullmatch(
        r"(?!add |new |buy )(.+?) (?:at|in) (.+)", text
    )
    if not found:
        return
    for place in named(case, found.group(2), ("place",)):
        for device in named(case, found.group(1), ("device",)):
            if case.devices[device.id].kind != "platform":
                yield Alternative(
                    title=f"{device.name}: place {place.name}",
                    edits=(SetField(noun="device", id=device.id, field="place", value=place.id),),
                    pick=f"device:{device.id}",
                )


def swapped(case: Case, text: str) -> Iterator[Alternative]:
    """`swap slipway and quay camera`: the two cables that go from them to one device, each where the other was."""
    found = re.fullmatch(r"(?:swap|exchange) (.+?) (?:and|with|for) (.+)", text)
    if not found:
        return
    ones, others = ([t.id for t in named(case, words, ("device",))] for words in found.groups())
    pairs = [
        (a, b)
        for a in case.cables
        for b in case.cables
        if a.id != b.id
        and ends_of(a)[0] in ones
        and ends_of(b)[0] in others
        and ends_of(a)[1] == ends_of(b)[1]
    ]
    for a, b in pairs:
        turned = (a.model_copy(update={"to_port": b.to_port}), b.model_copy(update={"to_port": a.to_port}))
        edits = (*(Remove(noun="link", id=x.id) for x in (a, b)), *(added(x) for x in turned))
        first, second = (case.device_of(x.from_port).name for x in (a, b))
        yield Alternative(
            title=f"{first} into {case.port_name(b.to_port)}, {second} into {case.ports[a.to_port].name}",
            edits=edits,
        )
    if ones and others and not pairs:
        first, second = (case.devices[ids[0]].name for ids in (ones, others))
        yield Alternative(title=f"{first} and {second} have no cables into one device that could be swapped", pick=f"device:{ones[0]}")  # fmt: skip


def places_said(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """`add place jetty`, `boathouse to net loft 40 m`, `slipway has mains`."""
    new = re.fullmatch(r"(?:add|new) place (.+)", text)
    if new and case.plan.sites:
        cased = line.strip()[-len(new.group(1)) :]
        name = cased[:1].upper() + cased[1:]
        site = case.plan.sites[0]
        place = Place(
            id=free_id(re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "place", set(case.places)),
            name=name,
            site=site.id,
        )
        yield Alternative(
            title=f"Add the place {name} at {site.name}", edits=(added(place),), go="brief", page="places"
        )
    mains = re.fullmatch(r"(.+?) (?:has |with )?(no |without )?(?:mains|power)", text)
    for at in named(case, mains.group(1), ("place",)) if mains else ():
        there = not mains.group(2) if mains else False
        yield Alternative(title=f"{at.name}: mains {'yes' if there else 'no'}", edits=(SetField(noun="place", id=at.id, field="mains", value=there),), pick=f"place:{at.id}")  # fmt: skip
    yield from _distance(case, text)


def _distance(case: Case, text: str) -> Iterator[Alternative]:
    found = re.fullmatch(r"(?:distance )?(.+?) (\d+(?:[.,]\d+)? ?(?:m|km|metres)?)", text)
    metres = amount_in(found.group(2), "m") if found else None
    if not found or not metres:
        return
    words = re.sub(r" (?:to|and|from) ", " ", f" {found.group(1)} ").split()
    for n in range(1, len(words)):
        a, b = named(case, " ".join(words[:n]), ("place",)), named(case, " ".join(words[n:]), ("place",))
        if len(a) == len(b) == 1 and a[0].id != b[0].id:
            span = span_between(case, a[0].id, b[0].id)
            known = any(s.id == span.id for s in case.plan.spans) if span else False
            id = (
                span.id
                if span and known
                else free_id(f"{a[0].id}-{b[0].id}"[:60], {s.id for s in case.plan.spans})
            )
            edits: list[Edit] = [] if known else [added(Span(id=id, a=a[0].id, b=b[0].id))]
            edits.append(SetField(noun="span", id=id, field="distance_m", value=metres))
            yield Alternative(title=f"{a[0].name} to {b[0].name}: {metres:g} m", edits=tuple(edits))
            return


def forwarded(case: Case, text: str) -> Iterator[Alternative]:
    """`forward udp 9000 to net loft decoder`: at the router of its network."""
    found = re.fullmatch(
        r"(?:forward|open|port forward)(?: port)?(?: (udp|tcp))?(?: port)? (\d{1,5}) (?:to|for) (.+)", text
    )
    if not found or not 1 <= int(found.group(2)) <= 65535:
        return
    transport, port = found.group(1) or "udp", int(found.group(2))
    for thing in named(case, found.group(3), ("device",)):
        for socket in case.devices[thing.id].ports:
            router = case.router_of.get(socket.network or "")
            if router is None:
                continue
            if not socket.address:
                yield Alternative(
                    title=f"{thing.name} has no address yet: give it one that stays, then forward to it",
                    go="addresses",
                    page="devices",
                    pick=f"device:{thing.id}",
                )
                continue
            kept = [f.model_dump(mode="json") for f in router.forwards]
            made = {"transport": transport, "port": port, "to_address": socket.address, "to_port": None}
            yield Alternative(
                title=f"{router.name}: forward {transport.upper()} {port} to {thing.name}, {socket.address}",
                edits=(SetField(noun="router", id=router.id, field="forwards", value=[*kept, made]),),
                pick=f"router:{router.id}",
            )


def measured(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """`boathouse fibre 18.2 up 94 down 23 ms`: measured now."""
    found = re.fullmatch(
        r"(.+?) ([\d.,]+ ?\S*?) ?up(?:load)?(?: ([\d.,]+) ?\S*? ?down)?(?: ([\d.,]+) ?ms)?", text
    )
    up = rate_in(found.group(2)) if found else None
    if not found or not up:
        return
    down, rtt = (float(x.replace(",", ".")) if x else None for x in found.groups()[2:])
    for uplink in named(case, found.group(1), ("uplink",)):
        taken = Measurement(
            at=case.as_of, uplink=uplink.id, up_mbps=up, down_mbps=down, rtt_ms=rtt, method="typed"
        )
        more = "".join([f", {down:g} Mb/s down" if down else "", f", {rtt:g} ms" if rtt else ""])
        yield Alternative(
            title=f"{uplink.name}: {up:g} Mb/s up{more}, measured now",
            measured=taken,
            pick=f"uplink:{uplink.id}",
        )


def broken(case: Case, text: str) -> Iterator[Alternative]:
    """`weir fibre broken`: the run is marked, and what ends there says so; `mended` takes it back."""
    found = re.fullmatch(r"(.+?) (?:is )?(broken|cut|mended|fixed|repaired)", text)
    for id in case.links if found else ():
        if found and fits(found.group(1), case.link_name(id)):
            off = found.group(2) in ("broken", "cut")
            yield Alternative(
                title=f"{case.link_name(id)}: {'broken' if off else 'mended'}",
                edits=(SetField(noun="link", id=id, field="broken", value=off),),
                pick=f"link:{id}",
            )


_LINES: dict[str, LineKind] = {"phone": "mobile", "mobile": "mobile", "modem": "mobile", "dongle": "mobile", "hotspot": "mobile", "4g": "mobile", "5g": "mobile", "lte": "mobile", "satellite": "satellite", "dsl": "dsl", "fibre": "fibre", "cable": "cable"}  # fmt: skip
_BACKUP = r"(?:backup|spare|failover|second)"


def backed_up(case: Case, text: str) -> Iterator[Alternative]:
    """`add phone as backup at boathouse`, `backup modem`: an uplink more, which the router fails over to."""
    kinds = "|".join(_LINES)
    found = re.fullmatch(
        rf"(?:add |new )?(?:an? )?(?:{_BACKUP} (?P<one>{kinds})|(?P<two>{kinds}) (?:as )?(?:an? )?{_BACKUP})(?: (?:line|uplink))?(?: (?:at|for|to|in) (?P<at>.+))?",
        text,
    )
    if not found:
        return
    word = found["one"] or found["two"]
    named_here = [t.id for t in named(case, found["at"] or "", ("place", "site", "router", "device"))]
    sites = {case.places[id].site if id in case.places else id for id in named_here}
    sites |= {
        case.places[p].site for id in named_here if id in case.devices and (p := case.devices[id].place)
    }
    for router in case.plan.routers:
        if router.uplinks and (not named_here or router.site in sites or router.id in named_here):
            yield backup_behind(case, router, word)


def backup_behind(case: Case, router: Router, word: str) -> Alternative:
    """An uplink of that kind more, to which a router that has one fails over."""
    name = free_name(f"Backup {word}, {case.sites[router.site].name}", {u.name for u in case.plan.uplinks})
    id = free_id(f"backup-{word}", {u.id for u in case.plan.uplinks})
    line = Uplink(id=id, name=name, site=router.site, kind=_LINES[word])
    order = SetField(noun="router", id=router.id, field="uplinks", value=[*router.uplinks, id])
    return Alternative(
        title=f"{router.name}: failover uplink {name}, after {case.uplinks[router.uplinks[0]].name}; measure it next",
        edits=(added(line), order),
        go="survey",
        page="measure",
        pick=f"uplink:{id}",
    )
