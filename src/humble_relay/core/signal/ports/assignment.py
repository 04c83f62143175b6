"""Whether each input has been told what it is, and is wanted by one source only."""

from collections import defaultdict
from collections.abc import Iterator

from humble_relay.core.judging.answer import (
    HOLDS,
    Numbers,
    Thing,
    Verdict,
    Words,
    doubtful,
    fails,
    holds,
    within,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.things import PLUGGED_PORTS, port_of
from humble_relay.core.plan import Device, Port, PortGroup, Stream
from humble_relay.core.plan.vocabulary import VIDEO
from humble_relay.core.signal.flow.propagation import is_dark, network_inputs

RequiredInput = dict[str, list[str]]
"""For each input, the links that bring it a picture."""


def group_is_full(case: Case, device: Device, port: Port) -> bool:
    """Whether the port belongs to a group of which as many are in use as work at once."""
    group = next((g for g in device.groups if g.id == port.group), None)
    if group is None:
        return False
    used = [p for p in device.ports if p.group == group.id and f"{device.id}/{p.id}" in case.join_at]
    return len(used) >= group.at_once


@check(
    "input-undecided", PLUGGED_PORTS, "signal", "Has the port been told what it is?", "common practice, no source"
)  # fmt: skip
def input_undecided(case: Case, what: tuple[str, Port]) -> Verdict:
    """Whether a port in use that could be one of several types has been told which."""
    ref, port = what
    if port.type is not None:
        return HOLDS
    return fails(
        lambda: Words(
            f"{case.port_name(ref)} may be {' or '.join(port.types)} and is not assigned.",
            "The picture does not show until the input is told which socket to listen to.",
            "Assign the port.",
        )
    )


@analysis
def inputs_wanted(case: Case) -> RequiredInput:
    """The links that bring each input a picture, by cable, radio or stream."""
    wanted: RequiredInput = defaultdict(list)
    for join in case.joins:
        if VIDEO & set(case.ports[join.to_port].types):
            wanted[join.to_port].append(join.id)
    for stream in case.streams:
        if stream.input:
            wanted[f"{stream.to_device}/{stream.input}"].append(stream.id)
    return wanted


GroupInUse = tuple[Device, PortGroup, dict[str, list[str]]]


def _groups(case: Case) -> Iterator[tuple[Thing, GroupInUse]]:
    wanted = inputs_wanted(case)
    for device in case.devices.values():
        for group in device.groups:
            refs = [f"{device.id}/{p.id}" for p in device.ports if p.group == group.id]
            used = {
                ref: wanted.get(ref) or [case.join_at[ref].id]
                for ref in refs
                if wanted.get(ref) or ref in case.join_at
            }
            if used:
                yield port_of(next(iter(used))), (device, group, used)


INPUTS_WANTED: SubjectKind[tuple[str, list[str]]] = SubjectKind(
    "input that a picture is brought to",
    lambda case: ((port_of(ref), (ref, links)) for ref, links in inputs_wanted(case).items()),
)
GROUPS_IN_USE: SubjectKind[GroupInUse] = SubjectKind("group of sockets in use", _groups)


@check(
    "input-contested",
    INPUTS_WANTED,
    "signal",
    "Does one source only want this input?",
    "common practice, no source",
)
def input_contested(case: Case, what: tuple[str, list[str]]) -> Verdict:
    """Whether an input is brought one picture: not two streams, nor a stream and a cable."""
    ref, links = what
    return HOLDS if len(links) == 1 else fails(lambda: _contested(case, case.port_name(ref), links))


@check(
    "group-contested",
    GROUPS_IN_USE,
    "signal",
    "Do so many of these sockets work at once?",
    "the maker's data",
    "gear",
)
def group_contested(case: Case, what: GroupInUse) -> Verdict:
    """Whether no more sockets of a group are in use than work at once. A screen with a lead in each of them shows the one that
    its button was pressed for: doubtful where two pictures are asked for there, a note where one is."""
    device, group, used = what
    links = [link for each in used.values() for link in each]
    if len(used) > group.at_once and device.kind in ("monitor", "projector"):
        asked = sum(a.end == device.id for a in case.plan.aims)
        chosen = lambda: _chosen_by_hand(case, device, links)  # noqa: E731
        return holds(remark=chosen) if asked <= group.at_once else doubtful(chosen, compared=(asked, *links))
    return within(
        Numbers(len(used), group.at_once, group.at_once, "sockets"),
        lambda: _contested(case, f"{device.name}, {group.name}", links, group.at_once),
    )


TO_NETWORK_INPUTS: SubjectKind[Stream] = SubjectKind(
    "stream to a box with inputs to assign",
    lambda case: (
        (Thing("link", s.id), s)
        for s in case.streams
        if not s.broken and network_inputs(case.devices[s.to_device])
    ),
)


@check(
    "network-input-dark", TO_NETWORK_INPUTS, "signal", "Is an input assigned to this stream?", "common practice, no source"
)  # fmt: skip
def network_input_dark(case: Case, stream: Stream) -> Verdict:
    """Whether a stream that arrives at a box shows on an input of it."""
    if not is_dark(case, stream):
        return HOLDS

    def say() -> Words:
        taker = case.devices[stream.to_device]
        if stream.input:
            told = case.ports[f"{taker.id}/{stream.input}"]
            state = "not assigned" if told.type is None else f"set to {told.type.upper()}"
            wrong = f"{stream.name} is meant for {taker.name}, {told.name}, which is {state}."
        else:
            wrong = f"{stream.name} arrives at {taker.name} and is assigned to no input."
        return Words(
            wrong,
            "The stream is running and the input is black: nothing shows until the input is told.",
            "Assign an input to the network source.",
        )

    return fails(say)


def _chosen_by_hand(case: Case, device: Device, links: list[str]) -> Words:
    return Words(
        f"{device.name} shows one of its inputs at a time: {listed(case.link_name(id) for id in links)}.",
        "It shows what was chosen last, until its input button is pressed.",
        "Choose the input in set-up, and say on the call sheet who changes it, and when.",
    )


def _contested(case: Case, name: str, links: list[str], at_once: int = 1) -> Words:
    from_whom = listed(case.link_name(id) for id in links)
    return Words(
        f"{name} takes {at_once} at once and the plan gives it {len(links)}: {from_whom}.",
        "One of them shows, and it may be the wrong one.",
        "Move one to another input, or switch between them by hand and say so in the notes.",
    )


CHECKS = (input_undecided, input_contested, group_contested, network_input_dark)
