"""Whether the mask typed into a box lets it see who is on its network, and nobody else."""

from collections.abc import Iterator
from ipaddress import IPv4Network
from typing import NamedTuple

from humble_relay.core.addressing.subnets import Subnet, ipv4, subnet
from humble_relay.core.egress.outbound import stays
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails, holds
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import ADDRESSED_PORTS
from humble_relay.core.plan import Device, Network, Port


class Masked(NamedTuple):
    """A socket whose mask was typed: what it takes for its network, and what that network is."""

    ref: str
    port: Port
    network: Network
    sees: IPv4Network
    sub: Subnet


def _masked(case: Case) -> Iterator[tuple[Thing, Masked]]:
    for thing, (ref, port, network) in ADDRESSED_PORTS.each(case):
        bits = port.interface.mask_bits if port.interface else None
        sub, address = subnet(network), ipv4(port.address)
        if bits and sub and address and address in sub.range:
            yield thing, Masked(ref, port, network, IPv4Network((address, bits), strict=False), sub)


MASKED: SubjectKind[Masked] = SubjectKind("socket with a mask of its own", _masked)


@check(
    "mask-hides", MASKED, "addresses", "Does its mask show it all of its network, and no other?",
    "RFC 950; RFC 1122 §3.3.1.1", "standard",
)  # fmt: skip
def mask_hides(case: Case, what: Masked) -> Verdict:
    """Whether the mask of a box is its network's. One too narrow hides neighbours: what goes to them goes to the gateway,
    which may turn it round (doubtful), and fails where the gateway is hidden too. One too wide has the box look on its own
    cable for boxes that are on another network; some routers answer in their place (proxy ARP, RFC 1027)."""
    sees, range_ = what.sees, what.sub.range
    if sees == range_:
        return HOLDS
    if sees.prefixlen < 31 and what.port.address in (str(sees[0]), str(sees[-1])):
        return fails(
            lambda: _words(case, what, "by that mask its own address names the whole network, not one box.")
        )
    gateway = what.sub.gateway
    leaves, met = _dealings(case, what.ref)
    beside = [d for d, p, n in met if n == what.network.id and (a := ipv4(p.address)) and a not in sees]
    if gateway and gateway not in sees and (leaves or beside):
        return fails(lambda: _words(case, what, f"the gateway {gateway} is outside of that: nothing of it leaves, and nothing comes back."))  # fmt: skip
    if beside:
        named = beside[0].name
        if gateway is None:
            return fails(
                lambda: _words(case, what, f"{named} is outside of that, and no gateway hands anything on.")
            )
        return doubtful(lambda: _words(case, what, f"{named} is outside of that: what is meant for it goes by the gateway, if that turns it round."), compared=(what.sees.prefixlen, named))  # fmt: skip
    across = [d for d, p, n in met if n != what.network.id and (a := ipv4(p.address)) and a in sees]
    if across:
        return doubtful(lambda: _words(case, what, f"it looks for {across[0].name} on its own cable, where that is not, unless the router answers in its place."), compared=(what.sees.prefixlen, across[0].id))  # fmt: skip
    return holds(remark=lambda: _words(case, what, "nothing it deals with in this plan is hidden by that."))


def _dealings(case: Case, ref: str) -> tuple[bool, list[tuple[Device, Port, str]]]:
    """Whether streams of a box leave its site, and the sockets of the boxes that it exchanges streams with."""
    id = ref.partition("/")[0]
    leaves, met = False, list[tuple[Device, Port, str]]()
    for stream in case.streams:
        if id not in (stream.from_device, stream.to_device):
            continue
        leaves = leaves or not stays(case, stream)
        other = case.devices[stream.to_device if id == stream.from_device else stream.from_device]
        met += [(other, p, p.network) for p in other.ports if p.network and p.address]
    return leaves, met


def _words(case: Case, what: Masked, why: str) -> Words:
    return Words(
        f"{case.port_name(what.ref)} has the mask /{what.sees.prefixlen} ({what.sees.netmask}), and {what.network.name} is {what.network.range}: {why}",
        "It reaches some boxes and not others, though all are on one network.",
        f"Set its mask to {what.sub.range.netmask}, or leave it to DHCP.",
    )


CHECKS = (mask_hides,)
