"""VLAN tags: networks of one site that were given the same one."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Network


def _tagged(case: Case) -> Iterator[tuple[Thing, Network]]:
    return ((Thing("network", n.id, "vlan"), n) for n in case.networks.values() if n.vlan is not None)


TAGGED: SubjectKind[Network] = SubjectKind("network with a VLAN tag", _tagged)


@check(
    "vlan-twice",
    TAGGED,
    "addresses",
    "Is it the only network of its site with this VLAN tag?",
    "IEEE 802.1Q",
    "standard",
)
def vlan_twice(case: Case, network: Network) -> Verdict:
    """Whether another network of the site, before this one, has its tag: on switches that are joined the two are one broadcast domain,
    with two DHCP servers in it. On switches that never meet they may both have it."""
    alike = (n for n in case.networks.values() if n.vlan == network.vlan and n.site == network.site)
    if (first := next(alike)).id == network.id:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{first.name} and {network.name} both have the VLAN tag {network.vlan}.",
            "Switches take them for one network: devices get an address of either, and half of them reach nothing.",
            "Give one of them another tag, in the plan and on every switch.",
        ),
        compared=(first.id, network.vlan),
    )


CHECKS = (vlan_twice,)
