"""A choice as the edits that make it."""

from collections.abc import Iterator

from humble_relay.core.allocation.allocation_problem import Sent, Solution, ToAllocate
from humble_relay.core.allocation.of_plan import (
    Delivery,
    deliveries,
    encoded,
    pushed,
    spoken,
    steers,
    straight,
)
from humble_relay.core.egress.outbound import router_out
from humble_relay.core.frozen import Frozen, free_id, free_name
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import Edit, Remove, SetField, added


def edits_of(case: Case, problem: ToAllocate, solution: Solution) -> tuple[Edit, ...]:
    """The edits that make the plan send as the solution says; none where it does already."""
    return tuple(_edits(case, problem, solution))


def _edits(case: Case, problem: ToAllocate, solution: Solution) -> Iterator[Edit]:
    routers = {d: r for d in case.devices if (r := router_out(case, case.devices[d]))}
    going = [g for g in deliveries(case) if g.last.id in solution.sent]
    outgoing = {o.id: o for o in problem.outgoing}
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

    pushes: set[tuple[object, ...]] = set()
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
        key = outgoing[g.last.id].push(sent.choice, sent.relay)
        if key in pushes:
            continue
        pushes.add(key)
        wanted = pushed(case, g, sent.relay, sent.choice)
        there = [o.push for o in going if o.push and o.push.id not in kept and (o.push.from_device, o.push.to_device) == (sender, sent.relay)]  # fmt: skip
        free = next((p for p in there if p.id == wanted.id), next((p for p in there if p.layout == wanted.layout), None))  # fmt: skip
        if free is None:
            push = _named(case, wanted, made, by(sender, sent.line))
            made.append(push)
            yield added(push)
        else:
            yield from _differences(free, wanted, _OF_A_PUSH)
            yield from _by(free, by(sender, sent.line))
        kept.add(free.id if free else push.id)
    for id in dict.fromkeys(g.push.id for g in going if g.push):
        if id not in kept:
            yield Remove(noun="link", id=id)


def _last(case: Case, going: Delivery, sent: Sent) -> Iterator[Edit]:
    """The stream that ends at the destination: from the relay or straight, in the picture that is chosen."""
    last = going.last
    if sent.relay is None:
        then = straight(case, going, sent.choice)
    else:
        then = encoded(last, sent.choice)
        if last.from_device != sent.relay:
            protocol = spoken(case, case.devices[sent.relay], case.devices[last.to_device], last)
            ends = {"from_device": sent.relay, "protocol": protocol or last.protocol, "layout": "full"}
            then = then.model_copy(update=ends)
    yield from _differences(last, then, ("from_device", "protocol", "layout", *_PICTURE))


def _by(stream: Stream, line: str | None) -> Iterator[Edit]:
    if stream.line != line:
        yield _set(stream, "line", line)


_PICTURE = ("format", "codec", "peak_mbps", "video_mbps")
_OF_A_PUSH = (*_PICTURE, "layout", "audio_kbps", "backup", "protocol")


def _differences(stream: Stream, then: Stream, fields: tuple[str, ...]) -> Iterator[Edit]:
    """The edits that make some fields of a stream those of another one."""
    for field in fields:
        value = getattr(then, field)
        if getattr(stream, field) != value:
            yield _set(stream, field, value.model_dump(mode="json") if isinstance(value, Frozen) else value)


def _named(case: Case, push: Stream, made: list[Stream], line: str | None) -> Stream:
    """A new push under an id and a name that nothing of the plan has."""
    sender, relay = case.devices[push.from_device], case.devices[push.to_device]
    return push.model_copy(
        update={
            "id": free_id(f"{sender.id}-to-{relay.id}"[:60], {*case.links, *(s.id for s in made)}),
            "name": free_name(f"{sender.name} to {relay.name}", {s.name for s in (*case.streams, *made)}),
            "line": line,
        }
    )


def _set(stream: Stream, field: str, value: object) -> SetField:
    return SetField.model_validate({"noun": "link", "id": stream.id, "field": field, "value": value})
