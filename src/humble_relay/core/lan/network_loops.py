"""Loops of network cables: what is sent to all goes round in them for ever."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Cable

_PLAIN = "network-switch"


@analysis
def closing_cables(case: Case) -> frozenset[str]:
    """The network cables between switches that close a loop: each joins two that earlier cables join already, or one to itself."""
    root: dict[str, str] = {}

    def find(device: str) -> str:
        while (up := root.get(device, device)) != device:
            device = up
        return device

    closing = []
    for cable in _between_switches(case):
        a, b = (find(ref.split("/")[0]) for ref in (cable.from_port, cable.to_port))
        if a == b:
            closing.append(cable.id)
        else:
            root[a] = b
    return frozenset(closing)


def _between_switches(case: Case) -> Iterator[Cable]:
    for cable in case.cables:
        ends = [case.device_of(ref) for ref in (cable.from_port, cable.to_port)]
        if cable.id in case.lan_cables and not cable.broken and all(d.kind == _PLAIN for d in ends):
            yield cable


BETWEEN_SWITCHES: SubjectKind[Cable] = SubjectKind(
    "network cable between switches",
    lambda case: ((Thing("link", c.id, "loop"), c) for c in _between_switches(case)),
)


@check(
    "network-loop", BETWEEN_SWITCHES, "signal", "Does it close no loop?", "IEEE 802.1D; common practice", "plan", tried=True
)  # fmt: skip
def network_loop(case: Case, cable: Cable) -> Verdict:
    """Whether a cable joins two switches that are joined already. Broadcasts go round in a loop until nothing else passes, unless
    the switches find it and close it (spanning tree, IEEE 802.1D), or bundle the cables (IEEE 802.1AX): nobody said so. A switch
    plugged into itself is stopped."""
    if cable.id not in closing_cables(case):
        return HOLDS
    a, b = (case.device_of(ref) for ref in (cable.from_port, cable.to_port))

    def say() -> Words:
        joined = (
            f"is plugged into {a.name} at both ends"
            if a is b
            else f"joins {a.name} and {b.name}, which are joined already"
        )
        return Words(
            f"{case.link_name(cable.id)} {joined}: a loop.",
            "Broadcasts go round in it until nothing else passes: every device of the network is gone at once.",
            "Unplug it, or have the switches find loops (spanning tree) and try it.",
        )

    return fails(say) if a is b else doubtful(say, compared=(cable.id,))


CHECKS = (network_loop,)
