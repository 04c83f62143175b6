"""The upload meter: what it says against what the line carries, and what becomes of a measurement that is taken back."""

import contextlib
import json
import os
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from humble_relay.core.transport.tcp_loss import probes_needed
from humble_relay.formats.plan_file import write_plan
from humble_relay.meter.client import Cancelled, CannotMeasure, by_iperf3, measure
from humble_relay.meter.lines import LINES, SimulatedLine
from humble_relay.meter.server import MeterServer
from humble_relay.web.app import make_app
from tests import namespaces, soak
from tests.build import STEADY, small_show
from tests.busy import measured_again
from tests.conftest import passed_over
from tests.real_tcp import TunLine, apart
from tests.server import JSON, Server
from tests.soak import of_many


@pytest.mark.parametrize("hour", [12, 20])
@pytest.mark.parametrize("line", LINES, ids=lambda line: line.id)
@measured_again
def test_it_says_what_the_line_carries_at_that_hour(line: SimulatedLine, hour: int) -> None:
    """Within a tenth of what the line carries; its round trip; its loss as a hundred probes can tell it."""
    told: list[float] = []
    with MeterServer(line=line, hour=hour) as far:
        found = measure(
            "x", "127.0.0.1", far.port, 1.5, lambda passed, _: told.append(passed), threading.Event(), "meter"
        )
    assert found.up_mbps == pytest.approx(line.carries_mbps(hour), rel=0.1)
    assert found.down_mbps == pytest.approx(line.down_mbps, rel=0.15)
    assert (
        found.rtt_ms and line.rtt_ms - 2 <= found.rtt_ms <= 1.2 * line.rtt_ms + 8
    )  # a busy machine adds to it
    assert found.loss_pct is not None and abs(found.loss_pct - line.loss_pct) <= 4
    assert (found.probes, found.connections) == (100, 1) and told[-1] > 0.8 and told == sorted(told)


@measured_again
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


@soak.further
@pytest.mark.parametrize("rtt", [80, 150, 5, 20][: of_many(1, 4)])
@measured_again
def test_it_measures_what_iperf3_does_on_a_long_line(rtt: int) -> None:
    """A line of 12 Mb/s between two namespaces: the meter says 0.9 to 1.1 of what one connection of iperf3 does (reference: iperf3).

    64 kB on their way would carry half of it at 80 ms; its queue of 0.4 s outlasts the moments in which a busy machine carries nothing."""
    if lacking := namespaces.lacking():
        passed_over(lacking)
    line = TunLine(f"hm{os.getpid() % 10_000}-{rtt}", rtt, 0, 12)
    try:
        serve = subprocess.Popen(
            ["ip", "netns", "exec", line.names[1], "iperf3", "-s", "-1"], stdout=subprocess.DEVNULL
        )
        time.sleep(0.5)
        command = [
            "ip",
            "netns",
            "exec",
            line.names[0],
            "iperf3",
            "-J",
            "-c",
            "10.9.0.2",
            "-t",
            "8",
            "-O",
            "2",
        ]
        asked = json.loads(subprocess.run(command, capture_output=True, check=True, text=True).stdout)
        serve.wait(5)
        reference = asked["end"]["sum_received"]["bits_per_second"] / 1e6
        far = apart(line.names[1], lambda: MeterServer("10.9.0.2"))
        with far:
            told = lambda *_: None  # noqa: E731
            found = apart(
                line.names[0],
                lambda: measure("x", "10.9.0.2", far.port, 8, told, threading.Event(), "meter", 6),
            )
    finally:
        line.close()
    assert 0.9 <= found.up_mbps / reference <= 1.1, (found.up_mbps, reference)
    assert (
        found.down_mbps and 0.85 <= found.down_mbps / 12 <= 1.05
    )  # nothing is lost on the way back: what the line carries
    needed = min(
        4000, max(100, probes_needed(6, found.rtt_ms))
    )  # as many as prove a push of 6 Mb/s (rule of three)
    assert found.probes >= 0.9 * needed and abs(found.rtt_ms - rtt) < 0.2 * rtt + 10


@measured_again
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


class FarEnd:
    """A far end that says what it is told to say, by TCP: its greeting, and in the end how much came."""

    def __init__(self, greeting: bytes, answer: bytes = b"", flood: bool = False) -> None:
        self._listener = socket.create_server(("127.0.0.1", 0))
        self.port: int = self._listener.getsockname()[1]
        self._greeting, self._answer, self._flood = greeting, answer, flood
        threading.Thread(target=self._talk, daemon=True).start()

    def _talk(self) -> None:
        with contextlib.suppress(OSError), self._listener.accept()[0] as caller:
            caller.sendall(self._greeting)
            ends = time.monotonic() + 1.2
            while time.monotonic() < ends:
                caller.recv(1_000_000)
                if self._flood:
                    caller.sendall(b"x" * 1000)
            caller.sendall(self._answer)
            time.sleep(1)


GREETING = b"humble-relay-meter 2 0011223344556677\n"


@pytest.mark.parametrize(
    ("far", "said"),
    [
        (FarEnd(GREETING, b"1 inf\n"), "cannot be"), (FarEnd(GREETING, b"1 nan\n"), "cannot be"),
        (FarEnd(GREETING, b"99999999999999 1\n"), "more came than was sent"), (FarEnd(GREETING, b"1000 1e-9\n"), "cannot be"),
        (FarEnd(GREETING, b"-5 1\n"), "cannot be"), (FarEnd(GREETING, b"much enough\n"), "did not say"),
        (FarEnd(GREETING, b"1" * 5000 + b" 1\n"), "did not say"), (FarEnd(GREETING, flood=True), "did not say"),
        (FarEnd(b"220 mail.example ready\n"), "no meter"), (FarEnd(b"\xff" * 5000), "no meter"), (FarEnd(b"busy\n"), "for others"),
    ],
    ids=lambda x: x if isinstance(x, str) else "",
)  # fmt: skip
def test_a_far_end_that_lies_or_floods_is_not_believed(far: FarEnd, said: str) -> None:
    with pytest.raises(CannotMeasure, match=said):
        measure("x", "127.0.0.1", far.port, 1, lambda *_: None, threading.Event(), "meter")


def test_far_ends_answer_no_answer_and_nobody_who_does_not_measure() -> None:
    """One forged datagram between two of them is not sent to and fro; nobody is flooded who did not ask, or by more than came."""
    with (
        MeterServer() as one,
        MeterServer() as two,
        socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as other,
    ):
        other.bind(("127.0.0.1", 0))
        other.settimeout(0.3)
        with socket.create_connection(("127.0.0.1", one.port)) as caller:
            token = bytes.fromhex(caller.recv(64).split()[-1].decode())
            for probe in (
                b"x",
                b"hrm?",
                b"hrm?" + bytes(12),
                b"hrm!" + token + b"0001",
                b"hrm?" + token[::-1] + b"0001",
            ):
                other.sendto(probe, ("127.0.0.1", one.port))
                with pytest.raises(TimeoutError):
                    other.recv(100)
            other.sendto(b"hrm?" + token + b"0001", ("127.0.0.1", one.port))
            answer = other.recv(100)
            assert answer == b"hrm!" + token + b"0001"
            other.sendto(answer, ("127.0.0.1", two.port))  # as if the first had asked the second
            with pytest.raises(TimeoutError):
                other.recv(100)
        time.sleep(0.2)
        other.sendto(b"hrm?" + token + b"0001", ("127.0.0.1", one.port))  # the caller is gone
        with pytest.raises(TimeoutError):
            other.recv(100)


def test_a_far_end_takes_callers_again_after_it_ran_out_of_descriptors() -> None:
    """In a process with few descriptors, callers who stay silent take them all; once they are gone, it measures."""
    code = "import resource, sys; resource.setrlimit(resource.RLIMIT_NOFILE, (14, 14)); from humble_relay.cli import main; main(['meter', '--port', sys.argv[1]])"
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with subprocess.Popen([sys.executable, "-c", code, str(port)], stdout=subprocess.PIPE) as far:
        assert far.stdout and b"Measuring at" in far.stdout.readline()
        silent = [socket.create_connection(("127.0.0.1", port)) for _ in range(30)]
        time.sleep(0.5)
        for caller in silent:
            caller.close()
        time.sleep(0.5)
        found = measure("x", "127.0.0.1", port, 1, lambda *_: None, threading.Event(), "meter")
        assert found.up_mbps > 1
        far.terminate()


def test_iperf3_neither_hangs_nor_outlives_the_server(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("humble_relay.meter.client._IPERF3_MORE_S", 1.0)
    with silent_far_end() as port:
        begun = time.monotonic()
        with pytest.raises(CannotMeasure, match="iperf3"):
            by_iperf3("x", "127.0.0.1", port, 1, threading.Event())
        assert time.monotonic() - begun < 5
        server = Server(tmp_path / "data").start()
        with server.client() as client:
            wanted = {
                "uplink": "boathouse-fibre",
                "host": "127.0.0.1",
                "port": port,
                "by": "iperf3",
                "seconds": 30,
            }
            assert client.post("/api/plans/saltmere-lantern-regatta/meter", json=wanted).status_code == 202
        for _ in range(50):
            if children := iperf3_of(server.pid):
                break
            time.sleep(0.1)
        assert children and server.stop() < 3
        assert not [
            c
            for c in children
            if Path(f"/proc/{c}/cmdline").exists() and b"iperf3" in Path(f"/proc/{c}/cmdline").read_bytes()
        ]


@contextlib.contextmanager
def silent_far_end() -> Iterator[int]:
    """The port of a far end that takes calls and never says a word."""
    with socket.create_server(("127.0.0.1", 0), backlog=50) as listener:
        yield listener.getsockname()[1]


def iperf3_of(pid: int) -> list[int]:
    """The iperf3 processes that a process began."""
    found = subprocess.run(["pgrep", "-P", str(pid), "iperf3"], capture_output=True, text=True).stdout
    return [int(line) for line in found.split()]


def test_nobody_elsewhere_learns_which_ports_of_the_servers_machine_are_open(tmp_path: Path) -> None:
    app = make_app(tmp_path, hosts=["127.0.0.1", "192.168.20.5"])
    own = socket.gethostbyname(socket.gethostname())
    plan = write_plan(small_show(), STEADY)
    for caller, headers, behind, here in (
        (("192.168.20.77", 5000), {}, False, False), (("127.0.0.1", 5000), {}, False, True),
        (("127.0.0.1", 5000), {"X-Forwarded-For": "127.0.0.1"}, False, False), (("127.0.0.1", 5000), {}, True, False),
    ):  # fmt: skip
        app = make_app(tmp_path, behind_proxy=behind)
        with TestClient(app, base_url="http://127.0.0.1", headers=JSON | headers, client=caller) as client:
            path = f"/api/plans/{client.post('/api/plans/import', content=plan).json()['id']}/meter"
            for host in (
                "127.0.0.1",
                "localhost",
                "0.0.0.0",
                "::1",
                "::ffff:127.0.0.1",
                "169.254.7.7",
                "127.9.9.9",
                own,
            ):
                run = client.post(path, json={"uplink": "fibre", "host": host, "port": 1, "seconds": 1})
                assert run.status_code == 202, run.text
                for _ in range(60):
                    found = client.get(f"/api/meter/{run.json()['id']}").json()
                    if found["state"] != "running":
                        break
                    time.sleep(0.1)
                refused = "is the machine that Humble Relay runs on" in found["wrong"]
                assert found["state"] == "failed" and refused != here, (
                    caller,
                    headers,
                    behind,
                    host,
                    found["wrong"],
                )


def test_a_measurement_is_begun_looked_at_and_cancelled_from_the_page(tmp_path: Path) -> None:
    app = make_app(tmp_path)
    with TestClient(app, base_url="http://127.0.0.1", headers=JSON, client=("127.0.0.1", 5000)) as client:
        client.post("/api/plans/import", content=write_plan(small_show(), STEADY))
        _measured_from_the_page(client, "/api/plans/regatta")


def _measured_from_the_page(client: TestClient, plan: str) -> None:
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
