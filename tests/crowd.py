"""Eight heavy askers of one kind at once, and a ninth who edits and reads a plan of their own meanwhile."""

import itertools
import json
import multiprocessing
import os
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import suppress
from multiprocessing.connection import Connection
from pathlib import Path
from typing import NamedTuple

import httpx

from humble_relay.core.catalogue.gear import from_library, library
from humble_relay.core.plan import (
    Aim,
    Interface,
    Network,
    Place,
    Plan,
    Port,
    Router,
    Show,
    Site,
    Stream,
    Uplink,
)
from humble_relay.core.plan.survey import Measurement, Survey
from tests.build import NOW
from tests.server import JSON, Server

ASKERS = 8
DEMO = "/api/plans/saltmere-lantern-regatta"
Ask = Callable[[httpx.Client, int], httpx.Response]


class Crowd(NamedTuple):
    """What came of it: the longest wait of the ninth in s, how often it was answered, the most memory of the server with
    its helpers in MB, and how the heavy askers were answered (nothing where they had to go)."""

    longest_s: float
    answered: int
    most_mb: float
    statuses: Counter[int]


def crowd(server: Server, ask: Ask, at_least_s: float = 4, most_s: float = 60) -> Crowd:
    """Lets eight ask at once. The ninth goes on until all are answered, at least so long, and at the most: then those who still
    wait go away, and are answered by nobody."""
    begun, waits, most = time.monotonic(), list[float](), 0.0
    answers, told = multiprocessing.get_context("fork").Pipe(False)
    # In a process of their own: what they send is not to hold up the ninth before it has asked.
    askers = multiprocessing.get_context("fork").Process(
        target=_all_ask, args=(server, ask, most_s + 30, told)
    )
    with server.client(most_s) as ninth:
        _turn(ninth, 0)
        askers.start()
        for turn in itertools.count(1):
            waits += _turn(ninth, turn)
            most = max(most, memory_mb(server.pid))
            if answers.poll() and time.monotonic() - begun > at_least_s:
                break
            if time.monotonic() - begun > most_s:
                break
    statuses = answers.recv() if answers.poll() else Counter[int]()
    askers.kill()
    askers.join()
    return Crowd(max(waits), len(waits), most, statuses)


def _all_ask(server: Server, ask: Ask, patience_s: float, told: Connection) -> None:
    statuses = Counter[int]()

    def one(number: int) -> None:
        with server.client(patience_s) as client:
            statuses[ask(client, number).status_code] += 1

    threads = [threading.Thread(target=one, args=(n,)) for n in range(ASKERS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    told.send(statuses)


def _turn(client: httpx.Client, number: int) -> list[float]:
    """An edit and three looks of the ninth; how long each took, in s."""
    waits = []
    version = client.get(DEMO).json()["version"]
    edit = {
        "kind": "set",
        "noun": "link",
        "id": "alder-feed",
        "field": "video_mbps",
        "value": 4 + number % 9 / 10,
    }
    for wanted in (
        lambda: client.post(f"{DEMO}/edits", json={"edits": [edit]}, headers={"If-Match": f'"{version}"'}),
        lambda: client.get(DEMO),
        lambda: client.get(f"{DEMO}/views/bandwidth"),
        lambda: client.get("/api/plans"),
    ):  # fmt: skip
        begun = time.monotonic()
        answer = wanted()
        waits.append(time.monotonic() - begun)
        assert answer.status_code == 200, answer.text[:300]
    return waits


def memory_mb(pid: int) -> float:
    """The memory of a process and of all it began, each page that is shared counted once (Linux: Pss), in MB."""
    total = 0.0
    for process in (pid, *children(pid)):
        with suppress(OSError):
            rows = Path(f"/proc/{process}/smaps_rollup").read_text().splitlines()
            total += next(int(row.split()[1]) for row in rows if row.startswith("Pss:")) / 1000
    return total


def children(pid: int) -> Iterator[int]:
    """The processes that a process began, and those that these began."""
    with suppress(OSError):
        for task in os.listdir(f"/proc/{pid}/task"):
            for child in Path(f"/proc/{pid}/task/{task}/children").read_text().split():
                yield int(child)
                yield from children(int(child))


def wrong_edits() -> bytes:
    """2.4 MB of edits with some 200 000 errors: unknown fields, and ports that are none."""
    port = dict.fromkeys("abcdef", 1)
    box = {"kind": "add-device", "item": {"id": "x", "name": "x", "kind": "camera", "ports": [port] * 200}}
    wide = {"kind": "add-device", "item": {str(n): 1 for n in range(100_000)}}
    return json.dumps({"edits": [box] * 100 + [wide]}).encode()


def junk(size: int) -> bytes:
    """So many bytes of JSON that is no plan: as many small values as fit."""
    return b'{"format": "humble-relay-plan", "version": 9, "plan": [' + b"[]," * ((size - 60) // 3) + b"[]]}"


def paste(size: int) -> str:
    """So many characters of lines that look like measurements."""
    line = "19:30 18.2 up 94 down 23 ms 0.5 % of 200 packets, jitter 2.1 ms, busy, one connection\n"
    return (line * (size // len(line) + 1))[:size]


def largest() -> Plan:
    """The largest plan that can be kept: 3000 boxes, 27 000 ports, and streams between them."""
    places = [Place(id=f"place-{n}", name=f"Place {n}", site="site", x_m=n * 20.0, y_m=0) for n in range(20)]
    port = Port(id="p", name="P", way="in", types=("sdi",))
    camera, switcher = library()["camera-field"].device, library()["switcher-four"].device
    devices = []
    for n in range(3000):
        box = camera if n % 2 else switcher
        ports = box.ports[:9]
        ports += tuple(port.model_copy(update={"id": f"more-{m}"}) for m in range(9 - len(ports)))
        devices.append(box.model_copy(update={"id": f"box-{n}", "name": f"Box {n}", "place": f"place-{n % 20}", "ports": ports}))  # fmt: skip
    return Plan(show=Show(name="Largest"), sites=(Site(id="site", name="Site"),), places=tuple(places), devices=tuple(devices))  # fmt: skip


def sixty_by_twenty() -> tuple[Plan, Survey]:
    """Sixty pictures to services over twenty measured uplinks of one router that steers."""
    uplinks = [Uplink(id=f"line-{n}", name=f"Line {n}", site="site") for n in range(20)]
    lan = {"interface": Interface(network="lan")}
    devices = [
        box.model_copy(update={"ports": tuple(p.model_copy(update=lan) if p.id == "lan" else p for p in box.ports)})
        for box in (from_library("encoder-one", f"enc-{n}", "desk") for n in range(60))
    ]  # fmt: skip
    services = [from_library("platform-wide", f"alder-{n}", None, f"Alder {n}") for n in range(60)]
    picture = {"width": 1920, "height": 1080, "rate": "50"}
    streams = [
        Stream.model_validate({"id": f"feed-{n}", "name": f"Feed {n}", "from_device": f"enc-{n}", "to_device": f"alder-{n}", "protocol": "rtmps", "format": picture, "video_mbps": 6})
        for n in range(60)
    ]  # fmt: skip
    plan = Plan(
        show=Show.model_validate({"name": "Sixty by twenty", "starts_at": NOW, "ends_at": NOW.replace(hour=12)}),
        sites=(Site(id="site", name="Site"),), places=(Place(id="desk", name="Desk", site="site"),),
        uplinks=tuple(uplinks), networks=(Network(id="lan", name="LAN", site="site", range="192.168.20.0/24", gateway="192.168.20.1"),),
        routers=(Router(id="router", name="Router", site="site", networks=("lan",), uplinks=tuple(u.id for u in uplinks), steers=True),),
        devices=(*devices, *services), links=tuple(streams),
        aims=tuple(Aim.model_validate({"id": f"aim-{n}", "of": f"enc-{n}", "end": f"alder-{n}", "picture": "program", "priority": n % 4 + 1}) for n in range(60)),
    )  # fmt: skip
    measurements = [
        Measurement(at=NOW.replace(day=NOW.day - day, hour=hour), uplink=u.id, up_mbps=12 + n % 7 + hour % 3)
        for n, u in enumerate(uplinks) for day in range(1, 6) for hour in (10, 11)
    ]  # fmt: skip
    return plan, Survey(measurements=tuple(measurements))


def post(path: str, content: bytes, version: int | None = None) -> Ask:
    """An asker that sends the same to one address."""
    headers = JSON | ({"If-Match": f'"{version}"'} if version else {})
    return lambda client, _: client.post(path, content=content, headers=headers)
