"""What a computer says of its network: the output of `ip addr`, `ifconfig` or `ipconfig /all`."""

import re
from ipaddress import IPv4Interface
from typing import NamedTuple

from humble_relay.core.addressing.subnets import subnet
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.edits import Edit, SetField, SetPort
from humble_relay.core.views.commands.line_meaning import Alternative

_HEAD = re.compile(r"^(?:\d+: )?([\w.-]+): |^(\S.*adapter .*):\s*$")
_ADDRESS = re.compile(r"(?:\binet |IPv4 Address[ .]*: ?)(\d+\.\d+\.\d+\.\d+)(?:/(\d+))?")
_MASK = re.compile(r"(?:netmask |Subnet Mask[ .]*: ?)(0x[0-9a-f]{8}|\d+\.\d+\.\d+\.\d+)")
_MAC = re.compile(r"(?:link/ether |ether |Physical Address[ .]*: ?)((?:[0-9A-Fa-f]{2}[:-]){5}[0-9A-Fa-f]{2})")
_GATEWAY = re.compile(r"(?:Default Gateway[ .]*: ?|default via )(\d+\.\d+\.\d+\.\d+)")
_MOST = 6


class NamedInterface(NamedTuple):
    """One interface with an address; what was not said is empty."""

    name: str
    address: str
    bits: int
    mac: str


def interfaces_in(case: Case, text: str) -> tuple[list[Alternative], list[str]]:
    """For each interface the sockets of the plan that it may be: whose address or hardware address it has, else those on a network that
    it is of. Nothing where the text is no such output."""
    found: list[Alternative] = []
    for interface in _interfaces(text):
        found += _offers(case, interface)
    gateway = _GATEWAY.search(text)
    for network in case.networks.values() if gateway else ():
        sub = subnet(network)
        if (
            gateway
            and sub
            and IPv4Interface(gateway.group(1)).ip in sub.range
            and network.gateway != gateway.group(1)
        ):
            edit = SetField(noun="network", id=network.id, field="gateway", value=gateway.group(1))
            found.append(
                Alternative(
                    title=f"{network.name}: gateway {gateway.group(1)}",
                    edits=(edit,),
                    pick=f"network:{network.id}",
                )
            )
    return found, []


def _interfaces(text: str) -> list[NamedInterface]:
    """The interfaces that have an IPv4 address, but loopback."""
    found, name, mac = [], "", ""
    for line in text.splitlines():
        if head := _HEAD.match(line):
            name, mac = head.group(1) or head.group(2), ""
        if other := _MAC.search(line):
            mac = other.group(1).replace("-", ":").lower()
        if (at := _ADDRESS.search(line)) and not at.group(1).startswith("127."):
            found.append(NamedInterface(name, at.group(1), int(at.group(2) or 0), mac))
        if (mask := _MASK.search(line)) and found and not found[-1].bits:
            found[-1] = found[-1]._replace(bits=_bits(mask.group(1)))
        if found and mac and not found[-1].mac and found[-1].name == name:
            found[-1] = found[-1]._replace(mac=mac)
    return found


def _bits(mask: str) -> int:
    """The prefix length of a mask, dotted or as ifconfig writes it."""
    number = (
        int(mask, 16) if mask.startswith("0x") else int.from_bytes(bytes(map(int, mask.split("."))), "big")
    )
    return number.bit_count()


def _offers(case: Case, interface: NamedInterface) -> list[Alternative]:
    sockets = [
        (f"{d.id}/{p.id}", d, p)
        for d in case.devices.values()
        for p in d.ports
        if {"ethernet", "wifi"} & set(p.types) and d.kind not in ("network-switch", "router", "injector")
    ]
    its = [
        s
        for s in sockets
        if s[2].address == interface.address
        or (interface.mac and s[2].interface and s[2].interface.hardware_address.lower() == interface.mac)
    ]
    on = [
        n.id
        for n in case.networks.values()
        if (sub := subnet(n)) and IPv4Interface(interface.address).ip in sub.range
    ]
    may = its or sorted(
        (s for s in sockets if s[2].network in on),
        key=lambda s: (bool(s[2].address), s[1].kind != "computer"),
    )
    said = f"{interface.address}{f'/{interface.bits}' if interface.bits else ''}{f', {interface.mac}' if interface.mac else ''}"
    offers = []
    for ref, device, port in may[:_MOST]:
        edits: list[Edit] = [SetPort(port=ref, field="interface.address", value=interface.address)]
        if interface.mac:
            edits.append(SetPort(port=ref, field="interface.hardware_address", value=interface.mac))
        offers.append(
            Alternative(
                title=f"{device.name}, {port.name}: {said} ({interface.name})",
                edits=tuple(edits),
                pick=f"device:{device.id}",
            )
        )
    if not offers:
        offers = [
            Alternative(
                title=f"{said} ({interface.name}) is on no network of this plan: write its range on the page Networks",
                go="addresses",
                page="networks",
            )
        ]
    return offers
