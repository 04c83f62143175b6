"""Whether each input has been told what it is, and is wanted by one source only."""

from collections import defaultdict
from collections.abc import Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.plan import Device, Port, Stream
from humble_relay.core.plan.edits import Edit, SetField, SetPort
from humble_relay.core.signal.flow.propagation import VIDEO, is_dark, network_inputs


@rule("input-undecided", "signal")
def input_undecided(case: Case) -> Iterator[Fault]:
    """Ports in use that could be one of several types and have not been told which."""
    for join in case.joins:
        for ref in (join.from_port, join.to_port):
            port = case.ports[ref]
            if port.type is None:
                yield Fault(
                    severity="stops",
                    noun="device",
                    subject=case.device_of(ref).id,
                    part=port.id,
                    wrong=f"{case.port_name(ref)} may be {' or '.join(port.types)} and is not assigned.",
                    means="The picture does not show until the input is told which socket to listen to.",
                    do="Assign the port.",
                    fixes=tuple(
                        Fix(title=f"Assign it to {t}", edits=(SetPort(port=ref, field="assigned", value=t),))
                        for t in port.types
                    ),
                )


@rule("input-contested", "signal")
def input_contested(case: Case) -> Iterator[Fault]:
    """Two sources for one input: two streams, a stream and a cable, or more sockets of a group than work at once."""
    wants: dict[str, list[str]] = defaultdict(list)
    for join in case.joins:
        if VIDEO & set(case.ports[join.to_port].types):
            wants[join.to_port].append(join.id)
    for stream in case.streams:
        if stream.input:
            wants[f"{stream.to_device}/{stream.input}"].append(stream.id)
    for ref, links in wants.items():
        if len(links) > 1:
            yield _contested(case, ref, case.port_name(ref), links)
    for device in case.devices.values():
        for group in device.groups:
            refs = [f"{device.id}/{p.id}" for p in device.ports if p.group == group.id]
            used = {
                ref: wants[ref] or [case.join_at[ref].id] for ref in refs if wants[ref] or ref in case.join_at
            }
            if len(used) > group.at_once:
                links = [link for each in used.values() for link in each]
                yield _contested(case, next(iter(used)), f"{device.name}, {group.name}", links, group.at_once)


@rule("network-input-dark", "signal")
def network_input_dark(case: Case) -> Iterator[Fault]:
    """Streams that arrive at a box and show on no input, because none is assigned to them."""
    for stream in case.streams:
        if stream.broken or not is_dark(case, stream):
            continue
        taker = case.devices[stream.to_device]
        taken = {s.input for s in case.streams_to[taker.id] if s is not stream}
        free = [
            p for p in network_inputs(taker) if p.id not in taken and f"{taker.id}/{p.id}" not in case.join_at
        ]
        if stream.input:
            told = case.ports[f"{taker.id}/{stream.input}"]
            state = "not assigned" if told.type is None else f"set to {told.type.upper()}"
            wrong = f"{stream.name} is meant for {taker.name}, {told.name}, which is {state}."
            free = [told, *free]
        else:
            wrong = f"{stream.name} arrives at {taker.name} and is assigned to no input."
        yield Fault(
            severity="stops",
            noun="link",
            subject=stream.id,
            wrong=wrong,
            means="The stream is running and the input is black: nothing shows until the input is told.",
            do="Assign an input to the network source.",
            fixes=tuple(
                Fix(title=f"Show it on {p.name}", edits=_assign(taker, p, stream))
                for p in dict.fromkeys(free)
                if "network" in p.types
            ),
        )


def _assign(taker: Device, port: Port, stream: Stream) -> tuple[Edit, ...]:
    """The edits that put a stream on an input."""
    edits: list[Edit] = []
    if port.type != "network":
        edits.append(SetPort(port=f"{taker.id}/{port.id}", field="assigned", value="network"))
    if stream.input != port.id:
        edits.append(SetField(noun="link", id=stream.id, field="input", value=port.id))
    return tuple(edits)


def _contested(case: Case, ref: str, name: str, links: list[str], at_once: int = 1) -> Fault:
    from_whom = " and ".join(case.link_name(id) for id in links)
    return Fault(
        severity="stops",
        noun="device",
        subject=case.device_of(ref).id,
        part=ref.split("/")[1],
        wrong=f"{name} takes {at_once} at once and the plan gives it {len(links)}: {from_whom}.",
        means="One of them shows, and it may be the wrong one.",
        do="Move one to another input, or switch between them by hand and say so in the notes.",
    )
