"""The upload meter: what it says against what the line carries, and what becomes of a measurement that is taken back."""

import contextlib
import json
import socket
import subprocess
import threading
import time
from typing import Any

import pytest
from fastapi.testclient import TestClient

from humble_relay.meter.client import Cancelled, CannotMeasure, by_iperf3, measure
from humble_relay.meter.lines import LINES, SimulatedLine
from humble_relay.meter.server import MeterServer


@pytest.mark.parametrize("hour", [12, 20])
@pytest.mark.parametrize("line", LINES, ids=lambda line: line.id)
def test_it_says_what_the_line_carries_at_that_hour(line: SimulatedLine, hour: int) -> None:
    """Within a tenth of what the line carries, 20 % and 2 ms of its round trip; its loss as a hundred probes can tell it."""
    told: list[float] = []
    with MeterServer(line=line, hour=hour) as far:
        found = measure(
            "x", "127.0.0.1", far.port, 1.5, lambda passed, _: told.append(passed), threading.Event(), "meter"
        )
    assert found.up_mbps == pytest.approx(line.carries_mbps(hour), rel=0.1)
    assert found.rtt_ms == pytest.approx(line.rtt_ms, rel=0.2, abs=2)
    assert found.loss_pct is not None and abs(found.loss_pct - line.loss_pct) <= 4
    assert (found.probes, found.connections) == (100, 1) and told[-1] > 0.8 and told == sorted(told)


def test_it_is_taken_back_and_says_what_is_wrong() -> None:
    gone = threading.Event()
    with MeterServer(line=LINES[0]) as far:
        threading.Timer(0.4, gone.set).start()
        begun = time.monotonic()
        with pytest.raises(Cancelled):
            measure("x", "127.0.0.1", far.port, 20, lambda *_: None, gone, "meter")
        assert time.monotonic() - begun < 3
    with pytest.raises(CannotMeasure, match="Nothing answers at"):
        measure("x", "127.0.0.1", far.port, 1, lambda *_: None, threading.Event(), "meter")


def test_an_iperf3_server_of_ones_own_is_asked_and_believed() -> None:
    """What the client says that it sent is what a real iperf3 server says that came."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    serve = ["iperf3", "-s", "-1", "-J", "-p", str(port)]
    with subprocess.Popen(serve, stdout=subprocess.PIPE, text=True) as server:
        for _ in range(50):  # it says nothing when it listens
            with contextlib.suppress(CannotMeasure):
                found = by_iperf3("x", "127.0.0.1", port, 1, threading.Event())
                break
            time.sleep(0.1)
        said = json.loads(server.communicate(timeout=10)[0])["end"]["sum_received"]["bits_per_second"] / 1e6
    assert found.up_mbps == pytest.approx(said, rel=0.05) and found.connections == 1 and found.rtt_ms
    with pytest.raises(CannotMeasure, match=f"measured nothing at 127.0.0.1, port {port}"):
        by_iperf3("x", "127.0.0.1", port, 1, threading.Event())
    with subprocess.Popen(serve, stdout=subprocess.DEVNULL) as server:
        time.sleep(0.3)
        gone = threading.Event()
        threading.Timer(0.4, gone.set).start()
        with pytest.raises(Cancelled):
            by_iperf3("x", "127.0.0.1", port, 20, gone)
        server.kill()


def test_a_measurement_is_begun_looked_at_and_cancelled_from_the_page(client: TestClient, plan: str) -> None:
    def begin(**wanted: Any) -> Any:
        return client.post(f"{plan}/meter", json={"uplink": "fibre", "seconds": 1, **wanted})

    def ended(run: str) -> Any:
        for _ in range(100):
            found = client.get(f"/api/meter/{run}").json()
            if found["state"] != "running":
                return found
            time.sleep(0.1)
        raise AssertionError("it never ended")

    assert begin(line="nowhere").status_code == 404 and begin().status_code == 422
    assert "meter.example" in begin(host="not an address!").json()["detail"]
    assert begin(uplink="nobody", line="steady").status_code == 404
    done = ended(begin(line="steady").json()["id"])
    assert done["state"] == "done" and done["measurement"]["up_mbps"] == pytest.approx(25, rel=0.1)
    long = begin(line="steady", seconds=30).json()["id"]
    other = begin(line="steady", seconds=30).json()["id"]
    assert begin(line="steady").status_code == 409
    for run in (long, other):
        client.delete(f"/api/meter/{run}")
        assert ended(run)["state"] == "cancelled"
    failed = ended(begin(host="127.0.0.1", port=1).json()["id"])
    assert failed["state"] == "failed" and "Nothing answers" in failed["wrong"]
