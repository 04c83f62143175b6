"""A choice as the edits that make it."""

from collections.abc import Iterator

from humble_relay.core.allocation.allocation_problem import Encoded, Sent, Solution
from humble_relay.core.allocation.of_plan import Delivery, deliveries, spoken, steers
from humble_relay.core.egress.outbound import router_out
from humble_relay.core.frozen import free_id, free_name
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import Edit, Remove, SetField, added


def edits_of(case: Case, solution: Solution) -> tuple[Edit, ...]:
    """The edits that make the plan send as the solution says; none where it does already."""
    return tuple(_edits(case, solution))


def _edits(case: Case, solution: Solution) -> Iterator[Edit]:
    routers = {d: r for d in case.devices if (r := router_out(case, case.devices[d]))}
    going = [g for g in deliveries(case) if g.last.id in solution.sent]
    lines: dict[str, set[str]] = {}
    for g in going:
        if sent := solution.sent[g.last.id]:
            lines.setdefault(routers[g.from_us.from_device].id, set()).add(sent.line)
    firsts = {r.id: r.uplinks[0] for r in case.plan.routers if r.uplinks}
    for router in {r.id: r for r in routers.values()}.values():
        used = lines.get(router.id, set())
        if len(used) == 1 and firsts[router.id] not in used and not steers(case, router):
            firsts[router.id] = next(iter(used))
            order = [firsts[router.id], *(u for u in router.uplinks if u != firsts[router.id])]
            yield SetField(noun="router", id=router.id, field="uplinks", value=list(order))

    def by(sender: str, line: str) -> str | None:
        """What a stream says of its line: nothing where its router sends it so by itself."""
        return None if firsts[routers[sender].id] == line else line

    pushes: dict[tuple[str, str, Encoded], str] = {}
    kept: set[str] = set()
    made: list[Stream] = []
    for g in going:
        sent, sender = solution.sent[g.last.id], g.from_us.from_device
        if sent is None:
            yield Remove(noun="link", id=g.last.id)
            continue
        yield from _last(case, g, sent)
        yield from _by(g.last, None if sent.relay else by(sender, sent.line))
        if sent.relay is None:
            continue
        key = (sender, sent.relay, sent.choice)
        if key in pushes:
            continue
        free = next((o.push for o in going if o.push and o.push.id not in kept and (o.push.from_device, o.push.to_device) == key[:2]), None)  # fmt: skip
        push = free or _push(case, g, sent, made, by(sender, sent.line))
        pushes[key] = push.id
        kept.add(push.id)
        if free is None:
            made.append(push)
            yield added(push)
        else:
            yield from _encoded(push, sent.choice)
            yield from _by(push, by(sender, sent.line))
    for id in dict.fromkeys(g.push.id for g in going if g.push):
        if id not in kept:
            yield Remove(noun="link", id=id)


def _last(case: Case, going: Delivery, sent: Sent) -> Iterator[Edit]:
    """The stream that ends at the destination: from the relay or straight, in the picture that is chosen."""
    last, sender = going.last, going.from_us.from_device
    comes_from = sent.relay or sender
    if comes_from != last.from_device:
        yield _set(last, "from_device", comes_from)
        protocol = spoken(case, case.devices[comes_from], case.devices[last.to_device], last)
        if protocol and last.protocol != protocol:
            yield _set(last, "protocol", protocol)
        layout = "full" if sent.relay else going.from_us.layout
        if layout != last.layout:
            yield _set(last, "layout", layout)
    yield from _encoded(last, sent.choice)


def _by(stream: Stream, line: str | None) -> Iterator[Edit]:
    if stream.line != line:
        yield _set(stream, "line", line)


def _encoded(stream: Stream, choice: Encoded) -> Iterator[Edit]:
    if stream.format != choice.format:
        yield _set(stream, "format", choice.format.model_dump(mode="json"))
    if stream.codec != choice.codec:
        yield _set(stream, "codec", choice.codec)
    if stream.video_mbps != choice.video_mbps:
        yield _set(stream, "video_mbps", choice.video_mbps)


def _push(case: Case, going: Delivery, sent: Sent, made: list[Stream], line: str | None) -> Stream:
    """A push of the picture to the relay, by the protocol that this takes first; its key is still to be typed."""
    assert sent.relay
    sender, relay = case.devices[going.from_us.from_device], case.devices[sent.relay]
    return going.from_us.model_copy(
        update={
            "id": free_id(f"{sender.id}-to-{relay.id}"[:60], {*case.links, *(s.id for s in made)}),
            "name": free_name(f"{sender.name} to {relay.name}", {s.name for s in (*case.streams, *made)}),
            "to_device": relay.id,
            "protocol": spoken(case, sender, relay, going.last) or going.last.protocol,
            "address": "",
            "key": None,
            "stream_id": "",
            "line": line,
            "format": sent.choice.format,
            "codec": sent.choice.codec,
            "video_mbps": sent.choice.video_mbps,
        }
    )


def _set(stream: Stream, field: str, value: object) -> SetField:
    return SetField.model_validate({"noun": "link", "id": stream.id, "field": field, "value": value})
