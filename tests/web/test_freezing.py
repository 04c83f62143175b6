"""Nothing freezes: work is bounded, stopped when nobody waits, and neither readers nor the server wait for one asker."""

import asyncio
import random
import socket
import sqlite3
import threading
import time
from collections.abc import Callable
from itertools import count, pairwise
from pathlib import Path
from typing import Any, TypeVar, cast

import httpx
import pytest
from fastapi.testclient import TestClient

from humble_relay.core.addressing.address_plan import free_address
from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.case import Case
from humble_relay.core.patience import Stopped
from humble_relay.core.plan import Cable, Plan, Stream
from humble_relay.core.plan.edits import Edit, SetField, added
from humble_relay.core.plan.edits.draft import EditRefused, apply, told
from humble_relay.core.signal.finder.alternatives import find_routes, reroute
from humble_relay.core.signal.finder.whole_show import MOST_AT_ONCE, patch_all
from humble_relay.core.signal.flow.tracing import trace
from humble_relay.core.views.address_strip import strips
from humble_relay.core.views.report import report_on
from humble_relay.formats.measurements import UnreadableMeasurement, read_measurements
from humble_relay.formats.plan_file import PlanFile, read_plan, write_plan
from humble_relay.store.crew import Crew
from humble_relay.web.app import make_app
from humble_relay.web.doors import Doors
from tests.build import NOW, STEADY, case_of, hd, put, small_show
from tests.server import JSON, Server

T = TypeVar("T")


def ends(work: Callable[[], T], within_s: float = 20) -> T:
    """What the work gives. Fails where it has not ended in far more time than any machine needs."""
    found: list[T] = []
    thread = threading.Thread(target=lambda: found.append(work()), daemon=True)
    thread.start()
    thread.join(within_s)
    assert found, "it does not end"
    return found[0]


def ring(boxes: int) -> Plan:
    """Converters that feed each other in a circle."""
    plan = small_show()
    edits: list[Edit] = [
        added(from_library("distribution-sdi", f"box-{n}", "boathouse")) for n in range(boxes)
    ]
    edits += [
        added(Cable(id=f"ring-{n}", from_port=f"box-{n}/out-1", to_port=f"box-{(n + 1) % boxes}/in", cable="coax", length_m=1))
        for n in range(boxes)
    ]  # fmt: skip
    return apply(plan, edits)


def test_re_routing_ends_on_a_ring_and_on_a_link_of_a_box_with_itself() -> None:
    for boxes in (1, 2, 5):
        plan = case_of(ring(boxes))
        for n in range(boxes):
            ends(lambda plan=plan, n=n: reroute(plan, f"ring-{n}"))
        ends(lambda plan=plan: (report_on(plan), trace(plan, "box-0")))
    decoder = from_library("decoder", "decoder", "boathouse")
    loop = Stream(id="self", name="Self", from_device="decoder", to_device="decoder", protocol="srt", format=hd(), video_mbps=5)  # fmt: skip
    plan = case_of(small_show(added(decoder), added(loop)))
    ends(lambda: (reroute(plan, "self"), report_on(plan), trace(plan, "decoder")))


@pytest.mark.parametrize("seed", range(12))
def test_every_question_ends_on_boxes_cabled_at_random(seed: int) -> None:
    rng, plan = random.Random(seed), small_show()
    models = [
        "converter-hdmi-sdi",
        "converter-sdi-hdmi",
        "distribution-sdi",
        "scaler",
        "switcher-four",
        "decoder",
    ]
    boxes = [
        from_library(rng.choice(models), f"box-{n}", rng.choice(["slipway", "boathouse"])) for n in range(9)
    ]
    plan = apply(plan, [added(b) for b in boxes])
    outs = [(f"{b.id}/{p.id}", t) for b in boxes for p in b.ports if p.way == "out" for t in p.types]
    ins = [(f"{b.id}/{p.id}", t) for b in boxes for p in b.ports if p.way == "in" for t in p.types]
    for n in range(40):
        (a, kind), (b, _) = (
            rng.choice(outs),
            rng.choice([i for i in ins if i[1] == rng.choice(outs)[1]] or ins),
        )
        cable = "coax" if kind == "sdi" else "hdmi"
        try:
            item = Cable(id=f"x-{n}", from_port=a, to_port=b, cable=cable, length_m=2)  # type: ignore[arg-type]
            plan = apply(plan, [added(item)])
        except EditRefused:
            continue
    index = case_of(plan)
    ends(lambda: report_on(index))
    for link in index.links:
        ends(lambda link=link: reroute(index, link))
    for box in boxes:
        ends(
            lambda box=box: (
                trace(index, box.id),
                find_routes(index, "camera", box.id),
                find_routes(index, box.id, "encoder"),
            )
        )


@pytest.mark.parametrize(
    "text",
    ["1" * 40_000, "up " + "1" * 900_000, "up" * 400_000, "up" + " " * 900_000, "9.9." * 200_000, "time=1" * 150_000,
     "min/avg/max/" * 80_000, "1 up " * 180_000, "1%" * 400_000, ("1 up " * 90 + "\n") * 2000, "at" + "a" * 900_000 + ",",
     "up\n" + "1,\n" * 300_000, '{"start": ' + "1" * 900_000, "2026-99-99 99:99 5 up"],
    ids=lambda text: text[:12].strip(),
)  # fmt: skip
def test_no_pasted_text_takes_long(text: str) -> None:
    def read() -> bool:
        try:
            return bool(read_measurements(text))
        except UnreadableMeasurement:
            return True

    assert ends(read)


def test_a_wide_network_is_not_counted_address_by_address() -> None:
    edits = [put("network", "lan", f, v) for f, v in
             (("range", "10.0.0.0/8"), ("gateway", "10.0.0.10"), ("pool_first", "10.0.0.11"), ("pool_last", "10.255.255.100"))]  # fmt: skip
    plan = small_show(*edits)
    index = case_of(plan)
    assert str(ends(lambda: free_address(index, plan.networks[0]))) == "10.255.255.101"
    assert ends(lambda: strips(index))[0].size == 2**24


def test_a_thousand_edits_are_told_and_made_on_a_thousand_devices() -> None:
    boxes: list[Edit] = [added(from_library("monitor", f"m-{n}", "slipway")) for n in range(1000)]
    plan = ends(lambda: apply(small_show(), boxes))
    edits: list[Edit] = [
        SetField(noun="device", id=f"m-{n}", field="name", value=f"Screen {n}") for n in range(1000)
    ]
    after, lines = ends(lambda: told(plan, edits, lambda thing: thing))
    assert after.devices[-1].name == "Screen 999" and len(lines) == 1000
    assert lines[-1] == f"name of {plan.devices[-1].name} {plan.devices[-1].name} → Screen 999"


def test_a_chain_of_a_thousand_boxes_is_judged_and_traced() -> None:
    names = [f"box-{n}" for n in range(1000)]
    boxes: list[Edit] = [added(from_library("distribution-sdi", n, "boathouse")) for n in names]
    links = [("camera/hdmi", f"{names[0]}/in"), *((f"{a}/out-1", f"{b}/in") for a, b in pairwise(names))]
    boxes += [added(Cable(id=f"c-{n}", from_port=a, to_port=b, cable="coax", length_m=1)) for n, (a, b) in enumerate(links)]  # fmt: skip
    index = case_of(small_show(*boxes))
    ends(lambda: report_on(index))
    for at in ("camera", names[0], names[500], names[-1]):
        ends(lambda at=at: trace(index, at), 10)
    assert len(trace(index, names[-1]).ways[0].hops) == 1000


def test_an_import_does_not_hold_up_others(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    reading, others = threading.Event(), threading.Event()

    def slow(data: bytes) -> PlanFile:
        reading.set()
        assert others.wait(20), "nobody else was answered while a file was read"
        return read_plan(data)

    monkeypatch.setattr("humble_relay.web.plan_routes.read_plan", slow)

    async def both() -> tuple[int, int]:
        transport = httpx.ASGITransport(make_app(tmp_path))
        async with httpx.AsyncClient(
            transport=transport, base_url="http://127.0.0.1", headers=JSON
        ) as client:
            text = write_plan(small_show(), STEADY)
            taking = asyncio.create_task(client.post("/api/plans/import", content=text))
            await asyncio.to_thread(reading.wait, 20)
            listed = await client.get("/api/plans")
            others.set()
            return (await taking).status_code, listed.status_code

    assert ends(lambda: asyncio.run(both()), 60) == (201, 200)


def cameras(number: int) -> Case:
    boxes: list[Edit] = [added(from_library("camera-field", f"c-{n}", "slipway")) for n in range(number)]
    return case_of(small_show(*boxes, added(from_library("switcher-eight", "switcher", "boathouse"))))


def test_patching_all_is_done_in_parts_and_says_what_is_left() -> None:
    patch = ends(lambda: patch_all(cameras(MOST_AT_ONCE + 7), "switcher"))
    assert len(patch.lines) == MOST_AT_ONCE and "7 are left" in patch.left


def test_long_work_stops_when_nobody_waits() -> None:
    """Each of the long questions feels the pulse often: it stops at the beat that says so."""
    plan = cameras(12)
    for work in (
        lambda p: patch_all(p, "switcher"),
        lambda p: find_routes(p, "c-3", "switcher"),
        lambda p: reroute(p, "run"),
        report_on,
    ):
        for last in (1, 5, 20):
            beats = count(1)

            def pulse(last: int = last, beats: "count[int]" = beats) -> None:
                if next(beats) >= last:
                    raise Stopped("enough")

            with pytest.raises(Stopped):
                work(Case(plan.plan, STEADY, NOW, None, pulse))  # type: ignore[no-untyped-call]


def test_the_asker_who_goes_away_is_noticed() -> None:
    """Around an application that works for ever, the doors pass on that the connection ended."""
    stopped = threading.Event()

    async def app(scope: Any, receive: Any, send: Any) -> None:
        def work() -> None:
            try:
                while True:
                    scope["state"]["patience"].pulse()
                    time.sleep(0.001)
            except Stopped:
                stopped.set()

        await asyncio.to_thread(work)

    async def ask() -> None:
        messages = iter([{"type": "http.request", "body": b"{}"}, {"type": "http.disconnect"}])

        async def receive() -> Any:
            return next(messages)

        async def send(_: Any) -> None:
            pass

        headers = [(b"host", b"localhost"), (b"content-type", b"application/json")]
        scope = {"type": "http", "method": "POST", "path": "/api/x", "headers": headers}
        await Doors(app, cast(Crew, None))(scope, receive, send)

    ends(lambda: asyncio.run(asyncio.wait_for(ask(), 20)) or True)
    assert stopped.is_set()


def test_readers_never_wait_for_a_writer_who_is_told_so(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("humble_relay.store.database._WAITS_S", 0.2)
    headers = {"content-type": "application/json"}
    with TestClient(make_app(tmp_path), base_url="http://127.0.0.1", headers=headers) as client:
        path = f"/api/plans/{client.post('/api/plans', json={'show': {'name': 'Gala'}}).json()['id']}"
        writer = sqlite3.connect(tmp_path / "humble-relay.sqlite", isolation_level=None)
        writer.execute("BEGIN IMMEDIATE")
        for read in ("/api/plans", path, f"{path}/history", "/api/stock"):
            assert client.get(read).status_code == 200
        edit = {"kind": "set", "noun": "show", "field": "name", "value": "Fête"}
        busy = client.post(f"{path}/edits", json={"edits": [edit]}, headers={"If-Match": '"1"'})
        assert busy.status_code == 503 and "try again" in busy.json()["detail"]
        writer.execute("ROLLBACK")
        assert (
            client.post(f"{path}/edits", json={"edits": [edit]}, headers={"If-Match": '"1"'}).status_code
            == 200
        )
        writer.close()


def test_what_is_half_sent_is_dropped_and_stopping_waits_for_nobody(tmp_path: Path) -> None:
    server, begun = Server(tmp_path).start(), list[socket.socket]()
    try:
        halves = [
            b"",
            b"GET /api/plans HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Half: ",
            b"POST /api/plans HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 900\r\n\r\n{",
        ]
        begun += [socket.create_connection(("127.0.0.1", server.port)) for _ in halves]
        for half, connection in zip(halves, begun, strict=True):
            connection.sendall(half)
            connection.settimeout(30)
        with server.client() as client:
            assert client.get("/api/plans").status_code == 200
        last = [connection.recv(65536) for connection in begun]  # each is closed by the server, or told why
        assert last[:2] == [b"", b""] and b" 408 " in last[2]
        for connection in begun:
            connection.close()
        waiting = socket.create_connection(("127.0.0.1", server.port))
        begun.append(waiting)
        waiting.sendall(halves[1])
        searching = threading.Thread(target=_search, args=(server,), daemon=True)
        searching.start()
        time.sleep(0.3)
        assert server.stop() < 3
        assert [f.name for f in tmp_path.iterdir() if f.name.startswith("humble-relay")] == [
            "humble-relay.sqlite"
        ]
    finally:
        for connection in begun:
            connection.close()
        server.kill()


def _search(server: Server) -> None:
    with server.client() as client:
        while True:
            try:
                client.get("/api/plans/saltmere-lantern-regatta/patch/switcher")
            except Exception:
                return
