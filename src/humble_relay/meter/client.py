"""One measurement against a meter: upload of one TCP connection, round trip, jitter and loss of probes; or by iperf3, where that
is what answers."""

import itertools
import shutil
import socket
import subprocess
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime
from statistics import median

from humble_relay.core.plan.survey import Measurement
from humble_relay.formats.measurements import read_iperf3

PROBES, APART_S = 100, 0.01
_GREETING = b"humble-relay-meter"
Progress = Callable[[float, float], None]
"""Told how much of the time has passed, 0 to 1, and how many Mb/s went out so far."""


class CannotMeasure(Exception):
    """Why there is no measurement, and what to change."""


class Cancelled(Exception):
    """Somebody took the measurement back."""


def measure(
    uplink: str, host: str, port: int, seconds: float, told: Progress, cancelled: threading.Event, method: str
) -> Measurement:
    """A measurement of an uplink, not kept yet. Raises CannotMeasure, or Cancelled.

    Upload is what the far end says that came, over the time that it took it, in Mb/s, after the first tenth of the time.
    """
    at = datetime.now(UTC)
    rtts, jitter, lost = _probe(host, port, cancelled)
    mbps = _upload(host, port, seconds, told, cancelled)
    return Measurement(
        at=at,
        uplink=uplink,
        up_mbps=round(mbps, 3),
        rtt_ms=round(median(rtts), 2) if rtts else None,
        jitter_ms=round(jitter, 2) if rtts else None,
        loss_pct=round(100 * lost / PROBES, 2) if rtts else None,
        probes=PROBES if rtts else None,
        connections=1,
        method=method,
    )


def _upload(host: str, port: int, seconds: float, told: Progress, cancelled: threading.Event) -> float:
    try:
        far = socket.create_connection((host, port), timeout=5)
    except OSError as error:
        raise CannotMeasure(f"Nothing answers at {host}, port {port} ({error.strerror or error}). Is the meter running there, and the port let through?") from None  # fmt: skip
    with far:
        far.setsockopt(socket.SOL_SOCKET, socket.SO_SNDBUF, 65_536)
        far.settimeout(5)
        try:
            if not far.recv(64).startswith(_GREETING):
                raise CannotMeasure(f"What answers at {host}, port {port} is no meter of Humble Relay's.")
            far.sendall(f"measure {seconds:g}\n".encode())
            return _sent(far, seconds, told, cancelled)
        except (TimeoutError, ConnectionError):
            raise CannotMeasure(f"The connection to {host} broke while measuring: try again, or measure for longer.") from None  # fmt: skip


def _sent(far: socket.socket, seconds: float, told: Progress, cancelled: threading.Event) -> float:
    begun, sent, data = time.monotonic(), 0, bytes(65_536)
    far.settimeout(0.2)
    while True:
        if cancelled.is_set():
            raise Cancelled
        passed = time.monotonic() - begun
        if passed > seconds + 0.3:
            break
        told(min(1.0, passed / seconds), sent * 8 / max(passed, 0.05) / 1e6)
        try:
            sent += far.send(data)
        except TimeoutError:
            continue
        except ConnectionError:
            break
    far.settimeout(5)
    answer = far.recv(100).split()
    if len(answer) != 2:
        raise CannotMeasure("The meter did not say how much came: try again.")
    came, took = int(answer[0]), float(answer[1])
    return came * 8 / max(took, 0.001) / 1e6


def _probe(host: str, port: int, cancelled: threading.Event) -> tuple[list[float], float, int]:
    """Round trips in ms, jitter in ms (RFC 3550 §6.4.1, of round trips), and how many probes did not come back."""
    sent: dict[int, float] = {}
    came: dict[int, float] = {}
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as line:
            line.connect((host, port))
            line.settimeout(0.005)
            ends = time.monotonic() + PROBES * APART_S + 1.0
            while time.monotonic() < ends and len(came) < PROBES:
                if cancelled.is_set():
                    raise Cancelled
                due = len(sent)
                if due < PROBES and (not sent or time.monotonic() - sent[due - 1] >= APART_S):
                    line.send(due.to_bytes(4, "big"))
                    sent[due] = time.monotonic()
                try:
                    n = int.from_bytes(line.recv(64)[:4], "big")
                    came[n] = 1000 * (time.monotonic() - sent[n])
                except (TimeoutError, KeyError):
                    continue
    except OSError:
        return [], 0.0, 0
    return list(came.values()), jitter_ms([came[n] for n in sorted(came)]), PROBES - len(came)


def jitter_ms(transits: list[float]) -> float:
    """The interarrival jitter of transit times in ms: J += (|D| − J) ÷ 16 (RFC 3550 §6.4.1).

    >>> round(jitter_ms([10, 26, 10]), 4)
    1.9375
    """
    found = 0.0
    for before, after in itertools.pairwise(transits):
        found += (abs(after - before) - found) / 16
    return found


def by_iperf3(uplink: str, host: str, port: int, seconds: float, cancelled: threading.Event) -> Measurement:
    """A measurement against an iperf3 server of one's own, with the iperf3 that is installed. Raises CannotMeasure, Cancelled."""
    if not shutil.which("iperf3"):
        raise CannotMeasure("iperf3 is not installed here (Debian: iperf3). Humble Relay's own meter needs nothing: run `humble-relay meter` at the far end.")  # fmt: skip
    command = ["iperf3", "-J", "-c", host, "-p", str(port), "-t", f"{seconds:g}"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True) as run:
        while True:
            try:
                text, _ = run.communicate(timeout=0.1)
                break
            except subprocess.TimeoutExpired:
                if cancelled.is_set():
                    run.kill()
                    raise Cancelled from None
    try:
        draft = read_iperf3(text).drafts[0]
    except (ValueError, IndexError) as error:
        raise CannotMeasure(f"iperf3 measured nothing at {host}, port {port}: {error}") from None
    return Measurement(
        at=datetime.now(UTC), uplink=uplink, up_mbps=draft.up_mbps or 0, rtt_ms=draft.rtt_ms, jitter_ms=draft.jitter_ms,
        loss_pct=draft.loss_pct, connections=draft.connections, method=draft.method or "iperf3",
    )  # fmt: skip
