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
            six = f"2001:db8:{s}{n}::/64" if rng.random() < 0.6 else ""
            networks.append({"id": id, "name": id, "site": f"site-{s}", "range": f"192.168.{octet}.0/24", "gateway": f"192.168.{octet}.1",
                             "range_v6": six, "guest_isolation": rng.random() < 0.15})  # fmt: skip
            here.append(id)
            for _b in range(rng.choice((1, 2, 2))):
                devices.append(_device(f"box-{box}", f"place-{s}", id, f"192.168.{octet}.{30 + box}", f"2001:db8:{s}{n}::{30 + box:x}" if six else "", rng))  # fmt: skip
                box += 1
        routers.append(_router(rng, f"router-{s}", f"site-{s}", here, [line["id"]]))
        if rng.random() < 0.4:  # a router of somebody's own, hung behind the first
            outer = here[0]
            octet = rng.choice((s, 9))
            networks.append({"id": f"inner-{s}", "name": f"inner-{s}", "site": f"site-{s}", "range": f"10.{octet}.0.0/24", "gateway": f"10.{octet}.0.1", "guest_isolation": False})  # fmt: skip
            first = next(x["range"] for x in networks if x["id"] == outer).rsplit(".", 1)[0]
            uplinks.append({"id": f"hung-{s}", "name": f"hung-{s}", "site": f"site-{s}", "behind": outer, "address": f"{first}.250", "lets_out": "everything"})  # fmt: skip
            address = networks[-1]["range"].replace(".0/24", f".{30 + box}")
            devices.append(_device(f"box-{box}", f"place-{s}", f"inner-{s}", address, "", rng))
            box += 1
            routers.append(_router(rng, f"hung-router-{s}", f"site-{s}", [f"inner-{s}"], [f"hung-{s}"]))
    devices.append({"id": "cloud", "name": "Cloud", "kind": "platform", "ingest": {"protocols": ["srt", "rtsp"], "host": "192.0.2.99", "port": 7000}})  # fmt: skip
    streams = [x for n in range(10) if (x := _stream(rng, n, devices, uplinks, routers, networks))]
    for router in routers:
        _forwards(rng, router, streams, devices, uplinks, networks)
    show = Show(name="Drawn", starts_at=START, format=hd())
    doc = {"show": show.model_dump(mode="json"), "sites": sites, "places": places, "uplinks": uplinks, "networks": networks,
           "routers": routers, "devices": devices, "links": streams}  # fmt: skip
    return Plan.model_validate(doc)


def _line(rng: random.Random, id: str, site: str, address: str) -> dict[str, Any]:
    outside = rng.choice(("public", "public", "public", "shared"))
    lets = rng.choice(("everything", "everything", "everything", "tcp", "web"))
    opened = [{"transport": rng.choice(("tcp", "udp")), "port": rng.choice((5000, 5001, 7000))}] if rng.random() < 0.5 else []  # fmt: skip
    return {"id": id, "name": id, "site": site, "outside": outside, "address": address if outside == "public" else "", "lets_out": lets, "opened": opened}  # fmt: skip


def _router(
    rng: random.Random, id: str, site: str, networks: list[str], uplinks: list[str]
) -> dict[str, Any]:
    rules = []
    for here in networks:
        for there in (*[n for n in networks if n != here], None):
            if rng.random() < 0.25:
                rules.append({"lets": rng.random() < 0.3, "from_network": here, "to_network": there, "transport": rng.choice((None, "tcp", "udp")),
                              **rng.choice(({}, {"first_port": 5000}, {"first_port": 1, "last_port": 6000}))})  # fmt: skip
    return {"id": id, "name": id, "site": site, "networks": networks, "uplinks": uplinks, "rules": rules, "reflects": rng.random() < 0.5,
            "mapping": rng.choice(("endpoint-independent", "address-and-port-dependent")), "filtering": "address-and-port-dependent"}  # fmt: skip


def _device(id: str, place: str, network: str, address: str, v6: str, rng: random.Random) -> dict[str, Any]:
    interface = {"network": network, "addressing": "fixed", "address": address, "address_v6": v6}
    port = {"id": "lan", "name": "LAN", "way": "both", "types": ["ethernet"], "interface": interface}
    return {"id": id, "name": id.capitalize(), "kind": "encoder", "place": place, "ports": [port], "lets_in": rng.random() > 0.1}  # fmt: skip


def _stream(rng: random.Random, n: int, devices: list[dict[str, Any]], uplinks: list[dict[str, Any]], routers: list[dict[str, Any]], networks: list[dict[str, Any]]) -> dict[str, Any] | None:  # fmt: skip
    a, b = rng.sample(devices, 2)
    protocol = rng.choice(("srt", "rtsp"))
    if a["id"] == "cloud" and protocol == "srt":
        a, b = b, a
    _caller, listener = (b, a) if protocol == "rtsp" else (a, b)
    if listener["id"] == "cloud":
        return None if protocol == "rtsp" else _made(n, protocol, a, b, "192.0.2.99", 7000)
    socket = listener["ports"][0]["interface"]
    site = next(x["site"] for x in networks if x["id"] == socket["network"])
    lines = [u["address"] for u in uplinks if u["site"] == site and u["address"]]
    wrong = rng.choice(devices[:-1])["ports"][0]["interface"]["address"]
    host = rng.choice([socket["address"], socket["address"], *(lines * 2), wrong, *([f"[{socket['address_v6']}]"] * 2 if socket["address_v6"] else [])])  # fmt: skip
    return _made(n, protocol, a, b, host, rng.choice((5000, 5001, 5002)))


def _made(
    n: int, protocol: str, a: dict[str, Any], b: dict[str, Any], host: str, port: int
) -> dict[str, Any]:
    return Stream.model_validate({"id": f"stream-{n}", "name": f"Stream {n}", "from_device": a["id"], "to_device": b["id"], "protocol": protocol,
                                  "format": hd(), "video_mbps": 4, "caller": "sender" if protocol == "srt" else None,
                                  "address": f"{protocol}://{host}:{port}" + ("/main" if protocol == "rtsp" else "")}).model_dump(mode="json")  # fmt: skip


def _forwards(rng: random.Random, router: dict[str, Any], streams: list[dict[str, Any]], devices: list[dict[str, Any]], uplinks: list[dict[str, Any]], networks: list[dict[str, Any]]) -> None:  # fmt: skip
    """Forwards that somebody set for the streams: most to whom they are meant for, some to another."""
    made: dict[tuple[str, int, bool], dict[str, Any]] = {}
    for stream in streams:
        listener = stream["from_device" if stream["protocol"] == "rtsp" else "to_device"]
        device = next(d for d in devices if d["id"] == listener)
        if not device.get("ports") or rng.random() < 0.25:
            continue
        socket = device["ports"][0]["interface"]
        port, transport = int(stream["address"].rsplit(":", 1)[1].split("/")[0]), "tcp" if stream["protocol"] == "rtsp" else "udp"  # fmt: skip
        six = "[" in stream["address"]
        to = socket["address_v6"] if six else socket["address"]
        inner = next((u for u in uplinks if u.get("behind") in router["networks"]), None)
        if socket["network"] not in router["networks"]:
            hangs = inner and any(socket["network"] in r for r in [[f"inner-{inner['site'][-1]}"]])
            if not hangs or six:
                continue
            to = inner["address"]
        if rng.random() < 0.1:
            to = to.rsplit(":", 1)[0] + ":99" if six else to.rsplit(".", 1)[0] + ".99"
        made.setdefault((transport, port, six), {"transport": transport, "port": port, "to_address": to, "to_port": None if six or rng.random() < 0.7 else 5009})  # fmt: skip
    router["forwards"] = list(made.values())
