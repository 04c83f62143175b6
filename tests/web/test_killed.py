"""A server killed in the middle of a burst of edits has kept every edit it acknowledged."""

import os
import signal
import socket
import subprocess
import sys
import threading
import time
from pathlib import Path

import httpx

from humble_relay.store.database import open_database
from humble_relay.store.plans import Plans
from tests.build import STEADY, small_show


def serve(folder: Path, port: int) -> subprocess.Popen[bytes]:
    command = [sys.executable, "-m", "humble_relay", "serve", "--data", str(folder), "--port", str(port)]
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    for _ in range(200):
        try:
            httpx.get(f"http://127.0.0.1:{port}/api/plans", timeout=1)
            return server
        except httpx.TransportError:
            time.sleep(0.05)
    raise AssertionError("the server did not start")


def test_kill_minus_nine_loses_nothing_acknowledged(tmp_path: Path) -> None:
    Plans(open_database(tmp_path)).create(small_show(), STEADY, "regatta", "imported")
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    url = f"http://127.0.0.1:{port}/api/plans/regatta"
    acknowledged: list[tuple[int, float]] = []
    server = serve(tmp_path, port)

    def burst() -> None:
        with httpx.Client(timeout=5) as client:
            version = 1
            for n in range(2000):
                edit = {"kind": "set", "noun": "link", "id": "run", "field": "length_m", "value": n}
                try:
                    answer = client.post(
                        f"{url}/edits", json={"edits": [edit]}, headers={"If-Match": f'"{version}"'}
                    )
                except httpx.TransportError:
                    return
                assert answer.status_code == 200
                version = answer.json()["version"]
                acknowledged.append((version, n))

    writer = threading.Thread(target=burst)
    writer.start()
    while len(acknowledged) < 25:
        time.sleep(0.01)
    os.kill(server.pid, signal.SIGKILL)
    server.wait()
    writer.join()

    again = serve(tmp_path, port)
    try:
        version, length = acknowledged[-1]
        now = httpx.get(url).json()
        kept = next(x["length_m"] for x in now["plan"]["links"] if x["id"] == "run")
        assert now["version"] in (version, version + 1)
        assert kept in (length, length + 1)
        history = httpx.get(f"{url}/history").json()
        assert {n for n, _ in acknowledged} <= {entry["number"] for entry in history}
        headers = {"If-Match": f'"{now["version"]}"', "Content-Type": "application/json"}
        answer = httpx.post(f"{url}/undo", headers=headers)
        assert answer.status_code == 200
    finally:
        again.kill()
        again.wait()
