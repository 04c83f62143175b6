"""The log under hard use: told to who listens as it is committed, each entry once, whatever is killed and whoever wrote it."""

import threading
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import httpx

from tests import soak
from tests.build import entered, entry, put
from tests.server import JSON, Server
from tests.web.test_killed import PLAN, imported

PHONES = 12
TOLD_S, CAUGHT_UP_S = 2.0, 5.0
"""What is allowed on a busy machine for what takes some 0.1 s on a quiet one, and after the server answers again."""


class Listener(threading.Thread):
    """A page that listens, and calls again from where it was when it is cut off."""

    plan = PLAN

    def __init__(self, url: str, after: int | None = None) -> None:
        super().__init__(daemon=True)
        self.url, self.last, self.over = url, after, False
        self.entries: list[str] = []
        self.versions: list[int] = []
        self.start()

    def run(self) -> None:
        while not self.over:
            headers = {} if self.last is None else {"Last-Event-ID": str(self.last)}
            try:
                with httpx.stream(
                    "GET", f"{self.url}{self.plan}/events", headers=headers, timeout=15
                ) as answer:
                    event = ""
                    for line in answer.iter_lines():
                        field, _, value = line.partition(": ")
                        if field == "event":
                            event = value
                        elif field == "id":
                            self.last = int(value)
                        elif field == "data" and event == "entry":
                            self.entries.append(httpx.Response(200, text=value).json()["id"])
                        elif field == "data" and event == "version":
                            self.versions.append(int(value))
                        if self.over:
                            return
            except httpx.TransportError:
                time.sleep(0.05)


class Phone(threading.Thread):
    """Writes line after line, keeps what is not acknowledged, and sends it again until it is."""

    def __init__(self, server: Server, name: str, lines: int) -> None:
        super().__init__(daemon=True)
        self.server, self.mine = server, [entry({"text": f"{name} {n}"}, f"{name}-{n}") for n in range(lines)]
        self.acknowledged: list[str] = []

    def run(self) -> None:
        waiting = list(self.mine)
        while waiting:
            try:
                some = {"entries": waiting[:3], "role": "crew"}
                said = httpx.post(f"{self.server.url}{PLAN}/entries", json=some, headers=JSON, timeout=10)
            except httpx.TransportError:
                time.sleep(0.05)
                continue
            if said.status_code == 201:
                kept = {e["id"] for e in said.json()["entries"] if e["sequence"]}
                self.acknowledged += sorted(kept)
                waiting = [e for e in waiting if e["id"] not in kept]


def until(there: Callable[[], bool], within_s: float) -> None:
    begun = time.monotonic()
    while not there():
        assert time.monotonic() - begun < within_s, "not within the time"
        time.sleep(0.02)


def test_killed_with_twelve_phones_writing_every_acknowledged_entry_is_there_once_and_told(
    tmp_path: Path,
) -> None:
    server = Server(tmp_path, "serve").start()
    imported(server)
    try:
        listener = Listener(server.url, 0)
        phones = [Phone(server, f"phone-{n}", 12) for n in range(PHONES)]
        for phone in phones:
            phone.start()
        for _ in range(2):
            time.sleep(0.4)
            server.kill()
            server.start()
        for phone in phones:
            phone.join(60)
        sent = {e["id"] for phone in phones for e in phone.mine}
        assert {id for phone in phones for id in phone.acknowledged} == sent
        until(lambda: sent <= set(listener.entries), CAUGHT_UP_S)
        told = Counter(listener.entries)
        assert [id for id in sent if told[id] != 1] == []
        with server.client() as client:
            kept = client.get(f"{PLAN}/entries").json()
        assert Counter(e["id"] for e in kept if e["id"] in sent) == Counter(sent)
        assert [e["sequence"] for e in kept] == sorted(e["sequence"] for e in kept)
        listener.over = True
    finally:
        server.kill()


def test_an_entry_and_an_edit_of_another_process_on_the_same_folder_are_told(tmp_path: Path) -> None:
    here = Server(tmp_path, "serve").start()
    imported(here)
    there = Server(tmp_path, "serve").start()
    try:
        listeners = [Listener(here.url), Listener(there.url)]
        until(lambda: all(x.versions for x in listeners), TOLD_S)
        with here.client() as client:
            entered(client, PLAN, {"text": "wind gets up"}, zone="Europe/London")
            edit = {"edits": [put("link", "feed", "video_mbps", 5).model_dump()]}
            client.post(f"{PLAN}/edits", json=edit, headers={"If-Match": '"1"'}).raise_for_status()
        until(lambda: all(len(x.entries) == 1 and x.versions[-1] == 2 for x in listeners), TOLD_S)
        assert there.stop() < 2.5 and here.stop() < 2.5  # nobody who listens holds it up
        for listener in listeners:
            listener.over = True
    finally:
        here.kill()
        there.kill()


@soak.further
def test_forty_who_listen_are_told_at_once(tmp_path: Path) -> None:
    server = Server(tmp_path, "serve").start()
    imported(server)
    try:
        listeners = [Listener(server.url) for _ in range(40)]
        until(lambda: all(x.versions for x in listeners), 10)
        with server.client() as client:
            entered(client, PLAN, {"text": "all at their places"})
        until(lambda: all(len(x.entries) == 1 for x in listeners), TOLD_S)
        for listener in listeners:
            listener.over = True
    finally:
        server.kill()
