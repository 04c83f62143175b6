"""The network of a plan built for real: Linux network namespaces for boxes and routers, bridges for networks, nftables for
translation, forwards and filters (ip-netns(8), bridge(8), nft(8)). What arrives there is what the kernel says arrives.

Addresses are private ones and those of the documentation (RFC 1918, RFC 5737, RFC 3849); nothing leaves the machine.
"""

import ctypes
import os
import select
import selectors
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from ipaddress import ip_address, ip_network
from pathlib import Path
from typing import NamedTuple
from urllib.parse import urlsplit

from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Plan, Port, Router, Rule, Uplink
from humble_relay.core.uplinks.policy_routes import LineRule, line_rules

TOOLS = ("ip", "nft", "bridge")
CLOUDS = ("192.0.2.0/24", "198.51.100.0/24", "203.0.113.0/24")
_SETTINGS = (
    ("ipv4/conf/all/rp_filter", "0"),
    ("ipv4/conf/default/rp_filter", "0"),
    ("ipv6/conf/default/accept_dad", "0"),
)
_ROUTES = (("ipv4/ip_forward", "1"), ("ipv6/conf/all/forwarding", "1"))
_LIBC = ctypes.CDLL(None, use_errno=True)
_NEW_NETWORK = 0x40000000


def lacking() -> str:
    """Why namespaces cannot be had here, in words; empty where they can."""
    if os.geteuid() != 0:
        return "network namespaces need root"
    gone = [tool for tool in TOOLS if not shutil.which(tool)]
    return f"{', '.join(gone)} not installed (Debian: iproute2, nftables)" if gone else ""


class Knock(NamedTuple):
    """One call to try: from a box, to a box, over a transport, to an address and port; where the other may listen."""

    name: str
    caller: str
    listener: str
    transport: str
    address: str
    port: int
    listens: frozenset[int]
    back: str = ""
    """Of two that call each other at once from one port (rendezvous): the address by which the listener calls the caller."""


class Lab:
    """A plan's network as namespaces, and the addresses that each box, line and cloud box was given."""

    def __init__(self, plan: Plan, case: Case, prefix: str, in_order: bool = True) -> None:
        self.in_order = in_order
        ranged = tuple(
            n if n.range else n.model_copy(update={"range": f"10.200.{i}.0/24"})
            for i, n in enumerate(plan.networks)
        )
        plan = plan.model_copy(update={"networks": ranged})
        self.plan, self.case, self.prefix = plan, case.with_plan(plan), prefix
        self.made: list[str] = []
        self.links: list[str] = []
        self.inside: dict[str, list[str]] = {}
        self.rules: dict[str, list[str]] = {}
        self.address: dict[str, str] = {}
        self.count = 0
        self.in_the_cloud = next((d.id for d in plan.devices if d.place is None), "")

    def build(self) -> None:
        """Lays everything: as few calls as can be, for each takes milliseconds."""
        self._namespace("hub")
        bridges = [*self.plan.networks, *[u for u in self.plan.uplinks if u.outside in ("shared", "private") and not u.behind]]  # fmt: skip
        self.bridge = {x.id: f"b{n}" for n, x in enumerate(bridges)} | {"internet": "bi"}
        self.inside["hub"] += [
            f"link add {b} type bridge stp_state 0 forward_delay 0" for b in self.bridge.values()
        ]
        self.inside["hub"] += [f"link set {b} up" for b in self.bridge.values()]
        self.gateway = {n.id: n.gateway or str(next(ip_network(n.range).hosts())) for n in self.plan.networks}
        for n, uplink in enumerate(self.plan.uplinks):
            self._line_address(n, uplink)
        for router in self.plan.routers:
            self._router(router)
        for device in self.plan.devices:
            if any(p.network for p in device.ports) or device.place is None:
                self._device(device.id)
        self._run()

    def _line_address(self, n: int, uplink: Uplink) -> None:
        if uplink.behind:
            pool = ip_network(self.case.networks[uplink.behind].range)
            self.address[uplink.id] = uplink.address or str(pool.network_address + 200 + n)
        elif uplink.outside in ("shared", "private"):
            self.address[uplink.id] = f"100.64.{n}.2" if uplink.outside == "shared" else f"172.31.{n}.2"
        else:
            self.address[uplink.id] = uplink.address or f"198.51.100.{n + 10}"

    def _namespace(self, name: str) -> None:
        self.made.append(name)
        self.inside[name] = ["link set lo up"]
        self.rules[name] = []

    def _wire(self, name: str, inside: str, bridge: str, address: str = "", bits: int = 24, v6: str = "", isolated: bool = False) -> None:  # fmt: skip
        """A cable from a box to a bridge, with addresses at the box's end."""
        self.count += 1
        end = f"v{self.count}"
        self.links.append(f"link add {end} netns {self.prefix}hub type veth peer name {inside} netns {self.prefix}{name}")  # fmt: skip
        self.inside["hub"] += [f"link set {end} master {bridge}", f"link set {end} up"]
        if isolated:
            self.inside["hub"].append(f"link set {end} type bridge_slave isolated on")
        self.inside[name].append(f"link set {inside} up")
        if address:
            self.inside[name].append(f"addr add {address}/{bits} dev {inside}")
        if v6:
            self.inside[name].append(f"addr add {v6}/64 dev {inside} nodad")

    def _onto_the_internet(self, name: str, inside: str, address: str, number: int, six: bool = True) -> None:
        self._wire(name, inside, "bi", address, 32, f"2001:db8:ffff::{number:x}" if six else "")
        self.inside[name] += [f"route add {net} dev {inside} src {address}" for net in CLOUDS]
        if six:
            self._routes_v6(name, inside)

    def _router(self, router: Router) -> None:
        self._namespace(router.id)
        number = self.plan.routers.index(router) + 1
        lan = {n: f"l{i}" for i, n in enumerate(router.networks)}
        for id, inside in lan.items():
            network = self.case.networks[id]
            v6 = str(ip_network(network.range_v6).network_address + 1) if network.range_v6 else ""
            self._wire(
                router.id, inside, self.bridge[id], self.gateway[id], ip_network(network.range).prefixlen, v6
            )
        for n, id in enumerate(router.uplinks):
            if n == 0:
                self._uplink(router, number, self.case.uplinks[id])
            elif behind := self.case.uplinks[id].behind:
                bits = ip_network(self.case.networks[behind].range).prefixlen
                self._wire(router.id, f"wan{n}", self.bridge[behind], self.address[id], bits, isolated=bool(self.case.networks[behind].guest_isolation))  # fmt: skip
            elif ruled := [r for r in line_rules(self.case) if r.router.id == router.id and r.line == id]:
                self._by_rule(router, n, self.address[id], ruled)
        for route in router.routes or ():
            if ":" not in route.via:
                self.inside[router.id].append(f"route add {route.to_range} via {route.via}")
        for hung, prefix in self._prefixes_below(router):
            stated = {r.to_range for r in router.routes or ()}
            if router.routes is None or prefix in stated:
                self.inside[router.id].append(f"route add {prefix} via {self._six_of(hung)}")
        self.rules[router.id] = list(_nft(router, lan, self.case, self.address))

    def _prefixes_below(self, router: Router) -> Iterator[tuple[Router, str]]:
        """The IPv6 prefixes behind routers that hang on a network of this one, each with the next router to it."""
        for hung in self.plan.routers:
            behind = self.case.uplinks[hung.uplinks[0]].behind if hung.uplinks else None
            if behind in router.networks and self._six_of(hung):
                for prefix in (*(self.case.networks[n].range_v6 for n in hung.networks), *(p for _, p in self._prefixes_below(hung))):  # fmt: skip
                    if prefix:
                        yield hung, prefix

    def _six_of(self, router: Router) -> str:
        """The IPv6 address of a router on the network that it hangs on."""
        behind = self.case.uplinks[router.uplinks[0]].behind or ""
        prefix = self.case.networks[behind].range_v6
        return (
            str(ip_network(prefix).network_address + 0x300 + self.plan.routers.index(router))
            if prefix
            else ""
        )

    def _uplink(self, router: Router, number: int, line: Uplink) -> None:
        address = self.address[line.id]
        if line.behind:
            bits = ip_network(self.case.networks[line.behind].range).prefixlen
            outer = self.case.networks[line.behind]
            self._wire(router.id, "wan", self.bridge[line.behind], address, bits, self._six_of(router), bool(outer.guest_isolation))  # fmt: skip
            self.inside[router.id].append(f"route add default via {self.gateway[line.behind]}")
            if outer.range_v6:
                self.inside[router.id].append(
                    f"route add ::/0 via {ip_network(outer.range_v6).network_address + 1}"
                )
        elif line.outside in ("shared", "private"):
            carrier, first = f"c-{line.id}", str(ip_address(address) - 1)
            self._namespace(carrier)
            self._wire(carrier, "in", self.bridge[line.id], first)
            self.address[f"carrier/{line.id}"] = f"198.51.100.{100 + number}"
            self._onto_the_internet(carrier, "out", f"198.51.100.{100 + number}", 100 + number)
            self.rules[carrier] = ["table ip nat { chain post { type nat hook postrouting priority 100; oifname out masquerade; } }"]  # fmt: skip
            self._wire(router.id, "wan", self.bridge[line.id], address)
            self.inside[router.id].append(f"route add default via {first}")
            if line.ipv6 is not False:
                self._six(router, number)
        else:
            self._onto_the_internet(router.id, "wan", address, number, line.ipv6 is not False)

    def _by_rule(self, router: Router, n: int, address: str, rules: list[LineRule]) -> None:
        """A further line on the internet, and the rules that send single streams by it: by source and destination."""
        self._wire(router.id, f"wan{n}", "bi", address, 32)
        self.inside[router.id] += [
            f"route add {net} dev wan{n} src {address} table {100 + n}" for net in CLOUDS
        ]
        for rule in rules:
            sender = self._at(self.case.devices[rule.stream.from_device], router)
            to = urlsplit(rule.stream.address).hostname
            self.inside[router.id].append(f"rule add from {sender} to {to} lookup {100 + n}")

    def _at(self, device: Device, router: Router) -> str:
        """The address of a box on the first network of a router that it is on."""
        return next(self._own(device, p) for p in device.ports if p.network in router.networks)

    def _own(self, device: Device, port: Port) -> str:
        whole = ip_network(self.case.networks[port.network or ""].range)
        return port.address or str(whole.network_address + 100 + self.plan.devices.index(device))

    def _six(self, router: Router, number: int) -> None:
        """IPv6 past a carrier that shares its IPv4 addresses: it has enough of the others, and translates none."""
        self._wire(router.id, "six", "bi", v6=f"2001:db8:ffff::{number:x}")
        self._routes_v6(router.id, "six")

    def _routes_v6(self, name: str, inside: str) -> None:
        for n, router in enumerate(self.plan.routers):
            if not router.uplinks or self.case.uplinks[router.uplinks[0]].behind:
                continue
            own = (self.case.networks[id].range_v6 for id in router.networks)
            for prefix in filter(None, (*own, *(p for _, p in self._prefixes_below(router)))):
                if name != router.id and not prefix.startswith(
                    "fd"
                ):  # the internet carries none of those (RFC 4193 §4.3)
                    self.inside[name].append(f"route add {prefix} via 2001:db8:ffff::{n + 1:x} dev {inside}")

    def _device(self, id: str) -> None:
        device = self.case.devices[id]
        self._namespace(id)
        number = self.plan.devices.index(device)
        if device.place is None:
            self.address[id] = f"192.0.2.{number + 10}"
            self._onto_the_internet(id, "e0", self.address[id], 500 + number)
            return
        for n, port in enumerate(p for p in device.ports if p.network):
            network = self.case.networks[port.network or ""]
            whole, six = ip_network(network.range), ip_network(network.range_v6) if network.range_v6 else None
            address = self._own(device, port)
            v6 = (port.interface.address_v6 if port.interface else "") or (str(six.network_address + 0x100 + number) if six else "")  # fmt: skip
            self.address[f"{id}/{port.id}"] = address
            self.address[f"{id}/{port.id}/v6"] = v6
            foreign = ip_address(address) not in whole
            bits = 16 if ip_address(address).is_link_local else whole.prefixlen
            self._wire(id, f"e{n}", self.bridge[network.id], address, bits, v6, bool(network.guest_isolation))
            said = port.interface.default_route if port.interface else None
            if any(network.id in r.networks for r in self.plan.routers) and said is not False:
                metric = self._metric(port, n)
                if not foreign:
                    self.inside[id].append(
                        f"route add default via {self.gateway[network.id]} metric {metric}"
                    )
                if six:
                    self.inside[id].append(f"route add ::/0 via {six.network_address + 1} metric {metric}")
        if device.lets_in is False:
            self.rules[id] = ["table inet own { chain in { type filter hook input priority 0; ct state new meta l4proto { tcp, udp } drop; } }"]  # fmt: skip

    def _metric(self, port: Port, n: int) -> int:
        """Which default route of a box goes first: that of a socket meant for it, cable, a phone on USB, Wi-Fi (the order of
        systemd-networkd and NetworkManager); among alike ones any may, so that both orders are built."""
        kind = next(
            m for m, t in ((100, "ethernet"), (300, "usb"), (600, "wifi"), (700, "mobile")) if t in port.types
        )
        if port.interface and port.interface.default_route:
            return 1 + (n if self.in_order else 9 - n)
        marked = 20 if port.role == "uplink" else kind + 20 * (port.role == "lan")
        return marked + (n if self.in_order else 9 - n)

    def _run(self) -> None:
        _ip("".join(f"netns add {self.prefix}{name}\n" for name in self.made))
        routers = {r.id for r in self.plan.routers}
        for name in self.made:
            with inside(self.prefix + name):
                passes = name in routers or name.startswith("c-")
                for path, value in (*_SETTINGS, *(_ROUTES if passes else ())):
                    Path(f"/proc/sys/net/{path}").write_text(value)
        _ip("".join(f"{line}\n" for line in self.links))
        for name, lines in self.inside.items():
            with inside(self.prefix + name):
                _ip("".join(f"{line}\n" for line in lines))
                if self.rules[name]:
                    subprocess.run(
                        ["nft", "-f", "-"],
                        input="\n".join(self.rules[name])
                        .replace("} }", "}\n}")
                        .replace("} chain", "}\nchain")
                        + "\n",
                        text=True,
                        check=True,
                    )

    def remove(self) -> None:
        """Takes every namespace away again, and with them all that was in them."""
        _ip("".join(f"netns del {self.prefix}{name}\n" for name in self.made), force=True)

    def answers(self, knocks: list[Knock], expected: set[str], patience_s: float = 0.35) -> set[str]:
        """The knocks that were heard by the box they were meant for, and whose answer came back."""
        poll, heard, back = selectors.DefaultSelector(), set[tuple[str, str, int]](), set[str]()
        meant = {k.name: k for k in knocks}
        open_: list[socket.socket] = []
        for knock in knocks:
            for port in () if knock.back else knock.listens:
                open_.append(self._listen(poll, knock, port))
        meeting = [side for k in knocks if k.back for side in self._both(poll, k)]
        open_ += [sock for sock, *_ in meeting]
        for knock in knocks:
            if not knock.back:
                open_.append(self._call(poll, knock))
        ends = time.monotonic() + 3
        settled, again = False, 0.0
        while time.monotonic() < ends:
            if meeting and time.monotonic() > again:
                again = time.monotonic() + 0.05
                for sock, knock, to in meeting:
                    with suppress(OSError):
                        sock.sendto(knock.name.encode(), (to, knock.port))
            for key, _ in poll.select(0.05):
                self._event(poll, key, heard, back, open_)
            if expected <= back and not settled:
                ends, settled = min(ends, time.monotonic() + patience_s), True
        for one in open_:
            one.close()
        at_whom = {n: {0} if k.back else k.listens for n, k in meant.items()}
        here = {n for n, by, at in heard if meant[n].listener == by and at in at_whom[n]}
        return here & back

    def meets(self, one: str, other: str, patience_s: float = 0.5) -> bool:
        """Whether two browsers get through to each other (ICE, RFC 8445, in short): each learns from a box on the internet how it
        is seen (STUN), both send to all that the other may be at and to whoever is heard, and one answer is enough."""
        server = self._udp(self.in_the_cloud, 3478)
        sides = [self._udp(one, 7001), self._udp(other, 7002)]
        known = [{(a, 7001) for a in self._hosts(one)}, {(a, 7002) for a in self._hosts(other)}]
        ends, again = time.monotonic() + patience_s, 0.0
        try:
            while time.monotonic() < ends:
                if time.monotonic() > again:
                    again = time.monotonic() + 0.05
                    for n, side in enumerate(sides):
                        for to in [*sorted(known[1 - n]), (self.address[self.in_the_cloud], 3478)]:
                            with suppress(OSError):
                                side.sendto(b"check", to)
                for sock in select.select([server, *sides], [], [], 0.05)[0]:
                    data, sender = sock.recvfrom(200)
                    with suppress(OSError):
                        if sock is server:
                            sock.sendto(f"{sender[0]} {sender[1]}".encode(), sender)
                            continue
                        n = sides.index(sock)
                        if data == b"yes":
                            return True
                        if data == b"check":
                            known[1 - n].add(sender)
                            sock.sendto(b"yes", sender)
                        else:
                            seen, port = data.decode().split()
                            known[n].add((seen, int(port)))
            return False
        finally:
            for sock in (server, *sides):
                sock.close()

    def _hosts(self, device: str) -> list[str]:
        return [
            a for key, a in self.address.items() if key.startswith(f"{device}/") and not key.endswith("/v6")
        ]

    def _udp(self, name: str, port: int) -> socket.socket:
        with inside(self.prefix + name):
            sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM | socket.SOCK_NONBLOCK)
        sock.bind(("0.0.0.0", port))
        return sock

    def _listen(self, poll: selectors.BaseSelector, knock: Knock, port: int) -> socket.socket:
        with inside(self.prefix + knock.listener):
            kind = socket.SOCK_DGRAM if knock.transport == "udp" else socket.SOCK_STREAM
            listener = socket.socket(socket.AF_INET6, kind | socket.SOCK_NONBLOCK)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
        listener.setsockopt(socket.IPPROTO_IPV6, socket.IPV6_V6ONLY, 0)
        listener.bind(("::", port))
        if knock.transport == "tcp":
            listener.listen()
        poll.register(listener, selectors.EVENT_READ, ("listen", knock))
        return listener

    def _both(self, poll: selectors.BaseSelector, knock: Knock) -> Iterator[tuple[socket.socket, Knock, str]]:
        """The sockets of two that call each other from one port at once, each with the address that it calls."""
        for name, to in ((knock.caller, knock.address), (knock.listener, knock.back)):
            with inside(self.prefix + name):
                sock = socket.socket(
                    socket.AF_INET6 if ":" in to else socket.AF_INET, socket.SOCK_DGRAM | socket.SOCK_NONBLOCK
                )
            sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            sock.bind(("::" if ":" in to else "0.0.0.0", knock.port))
            poll.register(sock, selectors.EVENT_READ, ("met" if name == knock.caller else "meets", knock))
            yield sock, knock, to

    def _call(self, poll: selectors.BaseSelector, knock: Knock) -> socket.socket:
        six = ":" in knock.address
        with inside(self.prefix + knock.caller):
            kind = socket.SOCK_DGRAM if knock.transport == "udp" else socket.SOCK_STREAM
            caller = socket.socket(socket.AF_INET6 if six else socket.AF_INET, kind | socket.SOCK_NONBLOCK)
        try:
            caller.connect((knock.address, knock.port))
            if knock.transport == "udp":
                caller.send(knock.name.encode())
        except BlockingIOError:
            pass
        except OSError:
            return caller  # no route at all
        events = selectors.EVENT_READ | (selectors.EVENT_WRITE if knock.transport == "tcp" else 0)
        poll.register(caller, events, ("call", knock))
        return caller

    def _event(self, poll: selectors.BaseSelector, key: selectors.SelectorKey, heard: set[tuple[str, str, int]], back: set[str], open_: list[socket.socket]) -> None:  # fmt: skip
        what, knock = key.data
        sock = key.fileobj
        assert isinstance(sock, socket.socket)
        try:
            if what in ("met", "meets"):
                data, sender = sock.recvfrom(200)
                other = knock.address if what == "met" else knock.back  # SRT takes none but whom it calls
                if data.decode() == knock.name and (ip_address(sender[0]), sender[1]) == (
                    ip_address(other),
                    knock.port,
                ):
                    back.add(knock.name) if what == "met" else heard.add((knock.name, knock.listener, 0))
            elif what == "listen" and knock.transport == "udp":
                data, sender = sock.recvfrom(200)
                heard.add((data.decode(), knock.listener, sock.getsockname()[1]))
                sock.sendto(data, sender)
            elif what == "listen":
                accepted, _ = sock.accept()
                accepted.setblocking(False)
                open_.append(accepted)
                poll.register(accepted, selectors.EVENT_READ, ("accepted", knock))
            elif what == "accepted":
                data = sock.recv(200)
                heard.add(
                    (data.decode(), knock.listener, sock.getsockname()[1])
                ) if data else poll.unregister(sock)
                sock.send(data)
            elif what == "call" and key.events & selectors.EVENT_WRITE:
                failed = sock.getsockopt(socket.SOL_SOCKET, socket.SO_ERROR)
                poll.unregister(sock)
                if not failed:
                    sock.send(knock.name.encode())
                    poll.register(sock, selectors.EVENT_READ, ("call", knock))
            else:
                if sock.recv(200).decode() == knock.name:
                    back.add(knock.name)
        except OSError:
            poll.unregister(sock)


def _nft(router: Router, lan: dict[str, str], case: Case, address: dict[str, str]) -> Iterator[str]:
    """A router's translation, forwards and filters, as it would be told them."""
    line = case.uplinks[router.uplinks[0]] if router.uplinks else None
    nets = ", ".join(lan.values())
    yield "table inet filter { chain forward { type filter hook forward priority 0; policy drop; ct state established,related accept;"
    for rule in router.rules:
        yield from _rule(rule, lan)
    holes = [f for f in router.forwards if ":" in f.to_address]
    for hole in holes:
        yield f"ip6 daddr {hole.to_address} {hole.transport} dport {hole.port} accept;"
    yield f"iifname {{ wan, wan1, wan2 }} ct status dnat accept; iifname {{ {nets} }} accept; }}"
    yield "chain input { type filter hook input priority 0; iifname { wan, wan1, wan2 } ct state new meta l4proto udp drop; } }"
    if line is None:
        return
    for n, out in enumerate(case.uplinks[id] for id in router.uplinks):
        if out.lets_out in (None, "everything"):
            continue
        ends = f"wan{n}" if n else "{ wan, six }"
        yield f"table inet line{n} {{ chain out {{ type filter hook postrouting priority 0; oifname != {ends} accept; ct state established,related accept;"
        for opening in out.opened:
            yield f"{opening.transport} dport {opening.port} accept;"
        yield (
            "meta l4proto udp drop; } }"
            if out.lets_out == "tcp"
            else "tcp dport { 80, 443 } accept; meta l4proto { tcp, udp } drop; } }"
        )
    yield "table ip nat { chain pre { type nat hook prerouting priority -100;"
    for forward, up in ((f, up) for f in router.forwards for up in router.uplinks):
        if router.translates and ":" not in forward.to_address:
            to = f"{forward.to_address}:{forward.to_port or forward.port}"
            only = "" if router.reflects else "iifname { wan, wan1, wan2 } "
            yield f"{only}ip daddr {address[up]} {forward.transport} dport {forward.port} dnat to {to};"
    yield "} chain post { type nat hook postrouting priority 100;"
    own_port = router.mapping in (None, "endpoint-independent")
    if router.translates:
        yield f"oifname {{ wan, wan1, wan2 }} masquerade{'' if own_port else ' fully-random'};"
    if router.reflects:
        yield f"iifname {{ {nets} }} oifname {{ {nets} }} ct status dnat masquerade;"
    yield "} }"


def _rule(rule: Rule, lan: dict[str, str]) -> Iterator[str]:
    outside = "{ wan, wan1, wan2, six }"
    here, to = (lan.get(n, "none") if n else outside for n in (rule.from_network, rule.to_network))
    ports = f"{rule.ports[0]}-{rule.ports[1]}" if rule.ports else "1-65535"
    for transport in (rule.transport,) if rule.transport else ("tcp", "udp"):
        verdict = "accept" if rule.lets else "drop"
        yield f"iifname {here} oifname {to} {transport} dport {ports} {verdict};"


def _ip(lines: str, force: bool = False) -> None:
    done = subprocess.run(["ip", *(["-force"] if force else []), "-batch", "-"], input=lines, text=True, capture_output=True)  # fmt: skip
    if done.returncode and not force:
        raise RuntimeError(f"{done.stderr}\n{lines}")


@contextmanager
def inside(name: str) -> Iterator[None]:
    """This thread within a network namespace."""
    with open("/proc/thread-self/ns/net") as home, open(f"/var/run/netns/{name}") as there:
        if _LIBC.setns(there.fileno(), _NEW_NETWORK):
            raise OSError(ctypes.get_errno(), f"cannot go into {name}")
        try:
            yield
        finally:
            _LIBC.setns(home.fileno(), _NEW_NETWORK)


@contextmanager
def built(plan: Plan, case: Case, prefix: str, in_order: bool = True) -> Iterator[Lab]:
    """The plan's network, taken away again at the end."""
    lab = Lab(plan, case, prefix, in_order)
    try:
        lab.build()
        yield lab
    finally:
        lab.remove()
