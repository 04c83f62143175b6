"""Networks of several sites drawn at random, with streams of every kind of call over them: what a referee is asked about."""

import random
from typing import Any

from humble_relay.core.plan import Plan, Show, Stream
from tests.build import START, hd


def networked(seed: int) -> Plan:
    """Two or three sites, each with networks, a router or two, a line, and boxes that call each other by addresses that
    are right, or wrong in the ways that they are on site."""
    rng = random.Random(seed)
    sites, networks, routers, uplinks, places, devices = [], [], [], [], [], []  # type: ignore[var-annotated]
    box = 0
    for s in range(rng.choice((2, 2, 3))):
        sites.append({"id": f"site-{s}", "name": f"Site {s}"})
        places.append({"id": f"place-{s}", "name": f"Place {s}", "site": f"site-{s}"})
        line = _line(rng, f"line-{s}", f"site-{s}", f"203.0.113.{10 + s}")
        uplinks.append(line)
        here = []
        for n in range(rng.choice((1, 2))):
            id, octet = f"net-{s}-{n}", rng.choice((10 * s + n, 10 * s + n, 10 * s + n, 77))
            if any(x["range"] == f"192.168.{octet}.0/24" for x in networks if x["site"] == f"site-{s}"):
                octet = 100 + 10 * s + n
            unique = rng.random() < 0.2  # addresses of the site alone (RFC 4193)
            start_v6 = f"{'fd00' if unique else '2001:db8'}:{s}{n}"
            six = f"{start_v6}::/64" if rng.random() < 0.6 else ""
            networks.append({"id": id, "name": id, "site": f"site-{s}", "range": f"192.168.{octet}.0/24", "gateway": f"192.168.{octet}.1",
                             "range_v6": six, "guest_isolation": rng.random() < 0.08})  # fmt: skip
            here.append(id)
            for _b in range(rng.choice((1, 2, 2))):
                devices.append(_device(f"box-{box}", f"place-{s}", id, f"192.168.{octet}.{30 + box}", f"{start_v6}::{30 + box:x}" if six else "", rng))  # fmt: skip
                box += 1
        routers.append(_router(rng, f"router-{s}", f"site-{s}", here, [line["id"]]))
        outer, depth = here[0], ""
        while len(depth) < 2 and rng.random() < 0.45:  # a router of one's own, hung behind the one before
            depth += "-in"
            inside = _hung(rng, f"{s}{depth}", f"site-{s}", outer, networks)
            networks.append(inside)
            first = _start(networks, outer)
            if _six(networks, outer) and rng.random() < 0.6:
                inside["range_v6"] = f"2001:db8:{s}a{len(depth)}::/64"
            uplinks.append({"id": f"hung-{s}{depth}", "name": f"hung-{s}{depth}", "site": f"site-{s}", "behind": outer, "address": f"{first}.250",
                            "lets_out": rng.choice(("everything", "everything", "everything", "tcp", "web"))})  # fmt: skip
            devices.append(
                _device(
                    f"box-{box}",
                    f"place-{s}",
                    inside["id"],
                    f"{_start(networks, inside['id'])}.{30 + box}",
                    inside.get("range_v6", "").replace("::/64", f"::{30 + box:x}"),
                    rng,
                )
            )
            box += 1
            routers.append(
                _router(rng, f"hung-router-{s}{depth}", f"site-{s}", [inside["id"]], [f"hung-{s}{depth}"])
            )
            routers[-1]["translates"] = rng.random() > 0.35
            others = [
                n["id"] for n in networks if n["site"] == f"site-{s}" and n["id"] not in (outer, inside["id"])
            ]
            if others and rng.random() < 0.25:  # a second socket of the router, on another network
                other = rng.choice(others)
                uplinks.append({"id": f"second-{s}{depth}", "name": f"second-{s}{depth}", "site": f"site-{s}", "behind": other,
                                "address": f"{_start(networks, other)}.251", "lets_out": "everything"})  # fmt: skip
                routers[-1]["uplinks"].append(f"second-{s}{depth}")
            outer = inside["id"]
        if rng.random() < 0.2:  # a network that no router is on, where nobody gives addresses
            id = f"alone-{s}"
            networks.append({"id": id, "name": id, "site": f"site-{s}", "range": f"10.9{s}.0.0/24", "gateway": "", "range_v6": "", "guest_isolation": False})  # fmt: skip
            for _b in range(2):
                devices.append(_device(f"box-{box}", f"place-{s}", id, f"10.9{s}.0.{30 + box}", "", rng))
                if rng.random() < 0.4:
                    devices[-1]["ports"][0]["interface"] |= {"addressing": "dhcp", "address": ""}
                box += 1
        if rng.random() < 0.06:  # nothing leads out of the site
            next(r for r in routers if r["id"] == f"router-{s}")["uplinks"] = []
        _second_sockets(rng, f"site-{s}", [n for n in networks if n["site"] == f"site-{s}"], devices)
    devices.append({"id": "cloud", "name": "Cloud", "kind": "platform", "ingest": {"protocols": ["srt", "rtsp"], "host": "192.0.2.99", "port": 7000}})  # fmt: skip
    for router in routers:
        _static_routes(rng, router, routers, uplinks, networks)
    for network in networks:
        _of_themselves(rng, network["id"], devices)
    streams = [x for n in range(10) if (x := _stream(rng, n, devices, uplinks, routers, networks))]
    for router in routers:
        _forwards(rng, router, streams, devices, uplinks, networks)
    for device in devices:
        _asked_by_nobody(rng, device, streams, routers)
    show = Show(name="Drawn", starts_at=START, format=hd())
    doc = {"show": show.model_dump(mode="json"), "sites": sites, "places": places, "uplinks": uplinks, "networks": networks,
           "routers": routers, "devices": devices, "links": streams}  # fmt: skip
    return Plan.model_validate(doc)


def _start(networks: list[dict[str, Any]], id: str) -> str:
    """The first three numbers of a network's range."""
    return str(next(x["range"] for x in networks if x["id"] == id)).rsplit(".", 1)[0]


def _six(networks: list[dict[str, Any]], id: str) -> str:
    return str(next(x["range_v6"] for x in networks if x["id"] == id))


def _static_routes(rng: random.Random, router: dict[str, Any], routers: list[dict[str, Any]], uplinks: list[dict[str, Any]], networks: list[dict[str, Any]]) -> None:  # fmt: skip
    """What somebody told a router of the networks behind others: all, with a slip now and then, nothing, or nobody looked."""
    if rng.random() < 0.2:
        return
    found = []
    for line in (u for u in uplinks if u.get("behind") in router["networks"]):
        todo = [next((r for r in routers if line["id"] in r["uplinks"][:1]), None)]
        while inner := todo.pop():
            for network in (n for n in networks if n["id"] in inner["networks"]):
                via = line["address"] if rng.random() < 0.9 else line["address"].rsplit(".", 1)[0] + ".240"
                if rng.random() < (0.4 if inner["translates"] else 0.85):
                    found.append({"to_range": network["range"].replace("/24", rng.choice(("/24", "/24", "/25"))), "via": via})  # fmt: skip
                if network["range_v6"] and rng.random() < 0.7:
                    found.append({"to_range": network["range_v6"], "via": "fe80::1"})
            hung = [u["id"] for u in uplinks if u.get("behind") in inner["networks"]]
            todo.append(next((r for r in routers if set(r["uplinks"][:1]) & set(hung)), None))
    router["routes"] = list({r["to_range"]: r for r in found}.values())


def _hung(rng: random.Random, id: str, site: str, outer: str, networks: list[dict[str, Any]]) -> dict[str, Any]:  # fmt: skip
    """A network behind a router of its own: of a range by itself, or by mistake that of a network elsewhere."""
    range_ = f"10.{len(networks)}.0.0/24"
    if rng.random() < 0.3:
        taken = {n["range"] for n in networks if n["site"] == site}
        others = [n["range"] for n in networks if n["range"] not in taken]
        range_ = rng.choice(others) if others else range_
    return {"id": f"inner-{id}", "name": f"inner-{id}", "site": site, "range": range_, "gateway": range_.replace(".0/24", ".1"), "range_v6": "", "guest_isolation": False}  # fmt: skip


def _second_sockets(rng: random.Random, site: str, here: list[dict[str, Any]], devices: list[dict[str, Any]]) -> None:  # fmt: skip
    """Some boxes of a site are on a second network too, by cable or by Wi-Fi."""
    for n, device in enumerate(d for d in devices if d.get("place") == site.replace("site", "place")):
        others = [x for x in here if x["id"] != device["ports"][0]["interface"]["network"]]
        if others and rng.random() < 0.3:
            other, types = rng.choice(others), rng.choice((["ethernet"], ["wifi"], ["wifi"]))
            interface = {
                "network": other["id"],
                "addressing": "fixed",
                "address": other["range"].replace(".0/24", f".{130 + n}"),
                "default_route": rng.choice((None, None, None, True, False)),
            }
            if rng.random() < 0.2:
                device["ports"][0]["interface"]["default_route"] = rng.random() < 0.5
            device["ports"].append({"id": "second", "name": "Second", "way": "both", "types": types, "interface": interface,
                                    "role": rng.choice(("lan", "lan", "uplink"))})  # fmt: skip


def _line(rng: random.Random, id: str, site: str, address: str) -> dict[str, Any]:
    outside = rng.choice(("public", "public", "public", "public", "shared"))
    lets = rng.choice(("everything", "everything", "everything", "everything", "tcp", "web"))
    opened = [{"transport": rng.choice(("tcp", "udp")), "port": rng.choice((5000, 5001, 7000))}] if rng.random() < 0.5 else []  # fmt: skip
    return {"id": id, "name": id, "site": site, "outside": outside, "address": address if outside == "public" else "", "lets_out": lets, "opened": opened,
            "ipv6": rng.choice((None, True, True, False))}  # fmt: skip


def _router(
    rng: random.Random, id: str, site: str, networks: list[str], uplinks: list[str]
) -> dict[str, Any]:
    rules = []
    for here in networks:
        for start, there in (*[(here, n) for n in networks if n != here], (here, None), (None, here)):
            if rng.random() < (0.15 if start else 0.4):
                rules.append({"lets": rng.random() < (0.3 if start else 0.7), "from_network": start, "to_network": there, "transport": rng.choice((None, "tcp", "udp")),
                              **rng.choice(({}, {"first_port": 5000}, {"first_port": 1, "last_port": 6000}))})  # fmt: skip
    return {"id": id, "name": id, "site": site, "networks": networks, "uplinks": uplinks, "rules": rules, "reflects": rng.random() < 0.5,
            "mapping": rng.choice(("endpoint-independent", "address-and-port-dependent")), "filtering": "address-and-port-dependent"}  # fmt: skip


def _device(id: str, place: str, network: str, address: str, v6: str, rng: random.Random) -> dict[str, Any]:
    interface = {"network": network, "addressing": "fixed", "address": address, "address_v6": v6}
    if rng.random() < 0.04:
        interface["default_route"] = False  # type: ignore[assignment]
    port = {"id": "lan", "name": "LAN", "way": "both", "types": ["ethernet"], "interface": interface}
    return {"id": id, "name": id.capitalize(), "kind": "encoder", "place": place, "ports": [port], "lets_in": rng.random() > 0.05}  # fmt: skip


def _stream(rng: random.Random, n: int, devices: list[dict[str, Any]], uplinks: list[dict[str, Any]], routers: list[dict[str, Any]], networks: list[dict[str, Any]]) -> dict[str, Any] | None:  # fmt: skip
    a, b = rng.sample(devices, 2)
    protocol = rng.choice(("srt", "srt", "rtsp", "rtsp", "web"))
    if protocol == "web":
        return _browsers(n, a, b) if "cloud" not in (a["id"], b["id"]) else None
    if a["id"] == "cloud" and protocol == "srt":
        a, b = b, a
    _caller, listener = (b, a) if protocol == "rtsp" else (a, b)
    if listener["id"] == "cloud":
        return None if protocol == "rtsp" else _made(n, protocol, a, b, "192.0.2.99", 7000)
    socket = rng.choice(listener["ports"])["interface"]
    site = next(x["site"] for x in networks if x["id"] == socket["network"])
    lines = [u["address"] for u in uplinks if u["site"] == site and u["address"]]
    wrong = rng.choice(devices[:-1])["ports"][0]["interface"]["address"]
    six = [f"[{socket['address_v6']}]"] * 2 if socket.get("address_v6") else []
    if rng.random() < 0.04:  # of one cable alone, and of which one it does not say (RFC 4007 §11)
        six = [f"[fe80::{len(devices):x}]"]
    host = rng.choice([socket["address"], socket["address"], *(lines * 2), wrong, *six])
    if rng.random() < 0.6:  # as somebody would type it who knows where both stand
        near = _caller.get("place") == listener["place"]
        host = rng.choice([socket["address"], *six] if near else [*lines[:1], *six] or [wrong])
    if not host:  # DHCP gives it one, which nobody wrote down
        host = f"{listener['id']}.example"
    if len(listener["ports"]) == len(_caller.get("ports", [1])) == 1 and rng.random() < 0.1:
        host = f"{listener['id']}.example"
    made = _made(n, protocol, a, b, host, rng.choice((5000, 5001, 5002)))
    more = {"media_over": rng.choice((None, None, "tcp", "udp"))} if protocol == "rtsp" else {}
    if protocol == "rtsp" and rng.random() < 0.06:
        more |= {"multicast": True, "media_over": None}
    if protocol == "srt" and rng.random() < 0.25:
        more = {"caller": "rendezvous", "address": made["address"].rsplit(":", 1)[0] + f":{6000 + n}"}
    elif rng.random() < 0.1:
        more["listens_port"] = rng.choice((5000, 5001, 5009))
    return made | more


def _browsers(n: int, a: dict[str, Any], b: dict[str, Any]) -> dict[str, Any]:
    """A browser link by a service that has no relay."""
    made = _made(n, "rtsp", a, b, "meet.example", 443)
    links = {"address": "https://meet.example/a", "view_address": "https://meet.example/b"}
    return made | links | {"protocol": "web", "relayed": False}


def _of_themselves(rng: random.Random, network: str, devices: list[dict[str, Any]]) -> None:
    """Boxes of a network that gave themselves addresses (RFC 3927), or have some of another range typed in."""
    if rng.random() > 0.1:
        return
    start = rng.choice(("169.254", "169.254", "10.77"))
    for n, device in enumerate(d for d in devices if len(d.get("ports", [])) == 1):
        interface = device["ports"][0]["interface"]
        if interface["network"] == network and rng.random() < 0.8:
            interface["address"] = f"{start}.{n if start == '169.254' else 7}.{40 + n}"


def _asked_by_nobody(rng: random.Random, device: dict[str, Any], streams: list[dict[str, Any]], routers: list[dict[str, Any]]) -> None:  # fmt: skip
    """DHCP gives an address to some boxes that nobody calls by one, and nobody wrote it down."""
    forwarded = {f["to_address"] for r in routers for f in r["forwards"]}
    for port in device.get("ports", []):
        address = port["interface"]["address"]
        if (
            rng.random() < 0.3
            and address not in forwarded
            and not any(address in s["address"] for s in streams)
        ):
            port["interface"] |= {"address": "", "addressing": "dhcp"}


def _made(
    n: int, protocol: str, a: dict[str, Any], b: dict[str, Any], host: str, port: int
) -> dict[str, Any]:
    return Stream.model_validate({"id": f"stream-{n}", "name": f"Stream {n}", "from_device": a["id"], "to_device": b["id"], "protocol": protocol,
                                  "format": hd(), "video_mbps": 4, "caller": "sender" if protocol == "srt" else None,
                                  "address": f"{protocol}://{host}:{port}" + ("/main" if protocol == "rtsp" else "")}).model_dump(mode="json")  # fmt: skip


def _forwards(rng: random.Random, router: dict[str, Any], streams: list[dict[str, Any]], devices: list[dict[str, Any]], uplinks: list[dict[str, Any]], networks: list[dict[str, Any]]) -> None:  # fmt: skip
    """Forwards that somebody set for the streams: most to whom they are meant for, some to another."""
    made: dict[tuple[str, int, bool], dict[str, Any]] = {}
    for stream in (s for s in streams if s["protocol"] != "web"):
        listener = stream["from_device" if stream["protocol"] == "rtsp" else "to_device"]
        device = next(d for d in devices if d["id"] == listener)
        if not device.get("ports") or rng.random() < 0.15:
            continue
        socket = device["ports"][0]["interface"]
        port, transport = int(stream["address"].rsplit(":", 1)[1].split("/")[0]), "tcp" if stream["protocol"] == "rtsp" else "udp"  # fmt: skip
        six = "[" in stream["address"]
        to = socket["address_v6"] if six else socket["address"]
        if socket["network"] not in router["networks"]:
            inner = next((u for u in uplinks if u.get("behind") in router["networks"]), None)
            if not inner or six or not socket["network"].startswith(inner["id"].replace("hung", "inner")):
                continue
            to = inner["address"]
        if rng.random() < 0.1:
            to = to.rsplit(":", 1)[0] + ":99" if six else to.rsplit(".", 1)[0] + ".99"
        made.setdefault((transport, port, six), {"transport": transport, "port": port, "to_address": to, "to_port": None if six or rng.random() < 0.7 else 5009})  # fmt: skip
    router["forwards"] = list(made.values())
