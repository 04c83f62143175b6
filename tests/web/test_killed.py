"""Killed, stopped, written to by many at once: everything acknowledged is there, once each."""

import random
import sqlite3
import threading
import time
from collections import Counter
from contextlib import closing
from pathlib import Path

import httpx
import pytest

from humble_relay.formats.plan_file import write_plan
from tests import soak
from tests.build import STEADY, entry, small_show
from tests.server import Server
from tests.soak import of_many

PLAN = "/api/plans/regatta"


def imported(server: Server) -> None:
    with server.client() as client:
        assert (
            client.post("/api/plans/import", content=write_plan(small_show(), STEADY, keys=True)).status_code
            == 201
        )


class Writer(threading.Thread):
    """Does one thing after another, each under an id and a mark of its own, until the server is gone."""

    def __init__(self, server: Server, name: str, seed: int, most: int = 10**6) -> None:
        super().__init__(daemon=True)
        self.server, self.mark, self.rng, self.most = server, name, random.Random(seed), most
        self.acknowledged: list[str] = []
        self.unanswered: tuple[str, str, object] | None = None
        self.conflicts = 0
        self.wrong: list[str] = []

    def run(self) -> None:
        with self.server.client(timeout=30) as client:
            version, n = 0, 0
            while len(self.acknowledged) < self.most:
                n += 1
                mark = f"{self.mark}-{n}"
                kind = self.rng.choice(["edit", "edit", "edit", "undo", "measure", "import"])
                try:
                    answer = self.send(client, kind, mark, version)
                except httpx.TransportError:
                    self.unanswered = (kind, mark, version)
                    return
                if answer.status_code == 503 and "is stopping" in answer.text:
                    return
                if answer.status_code in (200, 201):
                    self.acknowledged.append(f"{kind} {mark}")
                    version = version if kind in ("import", "measure") else answer.json()["version"]
                elif answer.status_code == 409:
                    self.conflicts += 1
                    version = answer.json()["version"]
                elif not (kind == "undo" and "nothing to undo" in answer.text):
                    self.wrong.append(f"{kind}: {answer.status_code} {answer.text[:200]}")
                    return

    def send(self, client: httpx.Client, kind: str, mark: str, version: object) -> httpx.Response:
        headers = {"If-Match": f'"{version}"', "Idempotency-Key": f"{mark}-{'0' * 8}"}
        if kind == "measure":
            row = {"at": "2026-09-13T20:00:00Z", "uplink": "fibre", "up_mbps": 20, "note": mark}
            return client.post(f"{PLAN}/entries", json={"entries": [entry(row, f"e-{mark}")]})
        if kind == "import":
            plan = small_show()
            plan = plan.model_copy(update={"show": plan.show.model_copy(update={"name": mark})})
            return client.post("/api/plans/import", content=write_plan(plan, STEADY), headers=headers)
        if kind == "undo":
            return client.post(f"{PLAN}/undo", headers=headers)
        edit = {
            "kind": "set",
            "noun": "link",
            "id": "run",
            "field": "length_m",
            "value": int(mark.split("-")[-1]),
        }
        return client.post(f"{PLAN}/edits", json={"edits": [edit], "why": mark}, headers=headers)


def all_there_once(server: Server, folder: Path, acknowledged: list[str]) -> None:
    """Everything acknowledged is in the history, the survey or the list of plans, exactly once."""
    with server.client(timeout=30) as client:
        now = client.get(PLAN).json()
        history = client.get(f"{PLAN}/history").json()
        marks = Counter(e["why"] for e in history) + Counter(m["note"] for m in now["survey"]["measurements"])
        marks += Counter(p["name"] for p in client.get("/api/plans").json())
        undone = sum(e["what"][0].startswith("undid") for e in history)
        assert undone >= sum(a.startswith("undo") for a in acknowledged)
        wrong = {
            a: marks[a.split()[1]]
            for a in acknowledged
            if not a.startswith("undo") and marks[a.split()[1]] != 1
        }
        assert not wrong
        assert [e["number"] for e in history] == list(range(now["version"], 0, -1))
        # Every step back and forth still leads somewhere: no revision is without its document.
        version = now["version"]
        for verb in ("undo", "redo", "restore/1", "undo"):
            answer = client.post(f"{PLAN}/{verb}", headers={"If-Match": f'"{version}"'})
            assert answer.status_code == 200 or "nothing to" in answer.text, answer.text
            version = answer.json().get("version", version)
    with closing(sqlite3.connect(folder / "humble-relay.sqlite")) as db:
        assert db.execute("PRAGMA integrity_check").fetchall() == [("ok",)]
        assert db.execute("PRAGMA foreign_key_check").fetchall() == []


@pytest.mark.parametrize("seed", range(of_many(1, 8)))
def test_killed_at_any_moment_it_has_kept_what_it_acknowledged_once_each(tmp_path: Path, seed: int) -> None:
    """During edits, undo, measurements and imports; every second time while it was stopping."""
    rng, server = random.Random(seed), Server(tmp_path, "serve").start()
    imported(server)
    acknowledged: list[str] = []
    try:
        for blow in range(2):
            writer = Writer(server, f"w{seed}-{blow}", seed * 10 + blow)
            writer.start()
            while len(writer.acknowledged) < rng.randint(4, 25) and writer.is_alive():
                time.sleep(rng.random() / 50)
            stopping = threading.Thread(target=server.stop)
            if blow % 2:
                stopping.start()
                time.sleep(rng.random() / 2)
            server.kill()
            if blow % 2:
                stopping.join()  # it would take the next one for the one that it stopped
            writer.join()
            assert not writer.wrong
            server.start()
            acknowledged += writer.acknowledged
            if writer.unanswered:  # sent again under its id: done now, or done then, but not twice
                kind, mark, version = writer.unanswered
                with server.client() as client:
                    if writer.send(client, kind, mark, version).status_code in (200, 201):
                        acknowledged.append(f"{kind} {mark}")
            all_there_once(server, tmp_path, acknowledged)
    finally:
        server.kill()


@soak.further
def test_twelve_writers_and_two_processes_lose_nothing(tmp_path: Path) -> None:
    one = Server(tmp_path, "serve").start()
    imported(one)
    two = Server(tmp_path, "serve").start()
    try:
        writers = [Writer((one, two)[n % 2], f"w{n}", n, most=6) for n in range(12)]
        for writer in writers:
            writer.start()
        for writer in writers:
            writer.join(timeout=300)
        assert not [w.wrong for w in writers if w.wrong]
        acknowledged = [a for w in writers for a in w.acknowledged]
        assert len(acknowledged) == 72 and sum(w.conflicts for w in writers) > 0
        all_there_once(two, tmp_path, acknowledged)
        stock = {"id": "x", "model": "Teasel Field camera", "count": 0}
        with one.client() as first, two.client() as second:  # what one process writes, the other sees at once
            first.put("/api/stock/x", json=stock).raise_for_status()
            line = next(
                x
                for x in second.get(f"{PLAN}/views/gear").json()["gear"]["stock"]
                if x["model"] == stock["model"]
            )
            assert line["missing"] == 1
    finally:
        assert one.stop() < 3 and two.stop() < 3
    assert [f.name for f in tmp_path.glob("humble-relay*")] == ["humble-relay.sqlite"]


def test_sent_again_a_change_is_made_once_and_answered_as_before(tmp_path: Path) -> None:
    server = Server(tmp_path, "serve").start()
    imported(server)
    try:
        with server.client() as client:
            writer = Writer(server, "again", 1)
            for version, kind in ((1, "edit"), (2, "undo"), (3, "measure"), (3, "import"), (3, "edit")):
                first = writer.send(client, kind, f"{kind}-{version}", version)
                again = writer.send(client, kind, f"{kind}-{version}", version)
                told = [x.json() | {"report": 0, "told": ""} for x in (first, again)]
                assert first.status_code == again.status_code and told[0] == told[1]
            reused = writer.send(client, "undo", "edit-1", 4)
            assert reused.status_code == 422 and "another change" in reused.json()["detail"]
            all_there_once(
                server, tmp_path, ["edit edit-1", "measure measure-3", "import import-3", "edit edit-3"]
            )
    finally:
        server.kill()
