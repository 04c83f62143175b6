"""A router's translation, forwards and rules as nftables would be told them (nft(8))."""

from collections.abc import Iterator

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.addressing.subnets import ipv6_range, subnet
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Network, Router, Rule


def write_nftables(case: Case, router: Router) -> str:
    """The rules of one router. Networks are told by their ranges, its WAN port by the name `wan`, to be replaced by the
    interface's own. Nothing comes in but what was asked for from inside, and what is forwarded."""
    return "\n".join(_lines(case, router)) + "\n"


def _lines(case: Case, router: Router) -> Iterator[str]:
    yield f"# {router.name}, for {case.plan.show.name}, as planned. Look through it before loading it: it decides who gets in."
    yield "# Put the name of the interface towards the line in place of wan."
    yield 'define WAN = "wan"'
    yield "table inet humble_relay {"
    yield "  chain pass {"
    yield "    type filter hook forward priority filter; policy drop;"
    yield "    ct state established,related accept"
    for rule in router.rules:
        yield from _rule(case, rule)
    for forward in router.forwards:
        if (to := address_in(forward.to_address)) is not None and to.version == 6:
            yield f"    ip6 daddr {to} {forward.transport} dport {forward.port} accept"
    yield "    iifname $WAN ct status dnat accept"
    yield "    iifname != $WAN accept"
    yield "  }"
    yield "}"
    for route in router.routes or ():
        yield f"# And a route, which nftables does not set: ip route add {route.to_range} via {route.via}"
    if not router.translates:
        return
    yield "table ip humble_relay_nat {"
    yield "  chain in {"
    yield "    type nat hook prerouting priority dstnat;"
    for forward in router.forwards:
        to = address_in(forward.to_address)
        if to is None:
            yield f"    # {forward.transport.upper()} {forward.port} leads to an address that cannot be read"
        elif to.version == 4:
            yield f"    iifname $WAN {forward.transport} dport {forward.port} dnat to {to}:{forward.to_port or forward.port}"
    yield "  }"
    yield "  chain out {"
    yield "    type nat hook postrouting priority srcnat;"
    random = " fully-random" if router.mapping == "address-and-port-dependent" else ""
    yield f"    oifname $WAN masquerade{random}"
    yield "  }"
    yield "}"


def _rule(case: Case, rule: Rule) -> Iterator[str]:
    ports = (
        ""
        if rule.ports is None
        else f"{rule.ports[0]}-{rule.ports[1]}"
        if rule.ports[0] < rule.ports[1]
        else f"{rule.ports[0]}"
    )
    over = (
        f"{rule.transport or 'th'} dport {ports} "
        if ports
        else f"meta l4proto {rule.transport} "
        if rule.transport
        else ""
    )
    if ports and not rule.transport:
        over = f"meta l4proto {{ tcp, udp }} {over}"
    verdict = "accept" if rule.lets else "drop"
    to = case.networks[rule.to_network] if rule.to_network else None
    sources = _ranges(case.networks[rule.from_network]) if rule.from_network else {"": "iifname $WAN"}
    targets = _ranges(to) if to else {"": "oifname $WAN"}
    for family in dict.fromkeys(f for f in (*sources, *targets) if f):
        source, target = sources.get(family) or sources.get(""), targets.get(family) or targets.get("")
        if source is None or target is None:
            continue
        here = source if source.startswith("iifname") else f"{family} saddr {source}"
        there = target if target.startswith("oifname") else f"{family} daddr {target}"
        yield f"    {here} {there} {over}{verdict}"


def _ranges(network: Network) -> dict[str, str]:
    """The ranges of a network by the word that nftables has for their family."""
    four, six = subnet(network), ipv6_range(network)
    return {**({"ip": str(four.range)} if four else {}), **({"ip6": str(six)} if six else {})}
