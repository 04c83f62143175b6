"""One measurement against a meter: upload of one TCP connection, round trip, jitter and loss of probes; or by iperf3, where that
is what answers."""

import itertools
import os
import shutil
import socket
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime
from statistics import median

from pydantic import ValidationError

from humble_relay.core.plan.survey import Measurement
from humble_relay.core.transport.tcp_loss import probes_needed
from humble_relay.formats.measurements import read_iperf3
from humble_relay.meter.server import (
    ANSWER,
    GREETING,
    PROBE,
    TOKEN_BYTES,
    line_of,
    warm_up_s,
)

PROBES, APART_S = 100, 0.01
MOST_PROBES, _STRAGGLERS_S = 4000, 1.0
_IPERF3_MORE_S, _MOST_SAID = 15.0, 1_000_000
"""How long iperf3 may take beyond what it measures, in s, and how many bytes it may print."""
_UP_SHARE = 0.65
"""What part of the time the upload takes, as the progress tells it."""
Progress = Callable[[float, float], None]
"""Told how much of the time has passed, 0 to 1, and how many Mb/s went out so far."""


class CannotMeasure(Exception):
    """Why there is no measurement, and what to change."""


class Cancelled(Exception):
    """Somebody took the measurement back."""


def measure(
    uplink: str,
    host: str,
    port: int,
    seconds: float,
    told: Progress,
    cancelled: threading.Event,
    method: str,
    prove_mbps: float = 0.0,
) -> Measurement:
    """A measurement of an uplink, not kept yet. Raises CannotMeasure, or Cancelled. Loss is counted over as many probes as prove that a
    push of `prove_mbps` gets through, if none is lost.

    Upload is what the far end says that came, over the time that it took it, in Mb/s. What cannot be is not believed:
    more than was sent, or another time than was asked for.
    """
    at = datetime.now(UTC)
    try:
        far = socket.create_connection((host, port), timeout=5)
    except OSError as error:
        raise CannotMeasure(f"Nothing answers at {host}, port {port} ({error.strerror or error}). Is the meter running there, and the port let through?") from None  # fmt: skip
    with far:
        if hasattr(
            socket, "TCP_NOTSENT_LOWAT"
        ):  # what waits here is little; what is on its way, as much as the line takes
            far.setsockopt(socket.IPPROTO_TCP, socket.TCP_NOTSENT_LOWAT, 131_072)
        try:
            token = _greeted(far, f"{host}, port {port}")
            rtts, jitter, lost = _probe(host, port, token, cancelled, prove_mbps)
            mbps = _upload(far, seconds, lambda share, now: told(share * _UP_SHARE, now), cancelled)
        except (TimeoutError, ConnectionError):
            raise CannotMeasure(f"The connection to {host} broke while measuring: try again, or measure for longer.") from None  # fmt: skip
    down = _download(
        host, port, seconds / 2, lambda share, now: told(_UP_SHARE + share * (1 - _UP_SHARE), now), cancelled
    )
    return Measurement(
        at=at,
        uplink=uplink,
        up_mbps=round(mbps, 3),
        down_mbps=None if down is None else round(down, 3),
        rtt_ms=round(median(rtts), 2) if rtts else None,
        jitter_ms=round(jitter, 2) if rtts else None,
        loss_pct=round(100 * lost / (lost + len(rtts)), 2) if rtts else None,
        probes=lost + len(rtts) if rtts else None,
        connections=1,
        method=method,
    )


def _greeted(far: socket.socket, where: str) -> bytes:
    """The token of the greeting. Raises CannotMeasure, TimeoutError, ConnectionError."""
    try:
        line = line_of(far, 5)
        if line == b"busy":
            raise CannotMeasure(f"The meter at {where} measures for others just now: try again in a minute.")
        token = bytes.fromhex(line.removeprefix(GREETING).decode())
        if not line.startswith(GREETING) or len(token) != TOKEN_BYTES:
            raise ValueError
    except ValueError:
        raise CannotMeasure(f"What answers at {where} is no meter of Humble Relay's, or of another version.") from None  # fmt: skip
    return token


def _upload(far: socket.socket, seconds: float, told: Progress, cancelled: threading.Event) -> float:
    far.sendall(f"measure {seconds:g}\n".encode())
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
    far.shutdown(socket.SHUT_WR)
    try:
        came_text, took_text = line_of(far, 5).split()
        came, took = int(came_text), float(took_text)
    except ValueError:
        raise CannotMeasure("The meter did not say how much came: try again.") from None
    if not (0 <= came <= sent and 0.5 * seconds <= took <= seconds + 5):
        raise CannotMeasure("What the meter says cannot be: more came than was sent, or in another time than was asked for. Is it the right one?")  # fmt: skip
    return came * 8 / took / 1e6


def _download(
    host: str, port: int, seconds: float, told: Progress, cancelled: threading.Event
) -> float | None:
    """What one connection brings down, in Mb/s, after the warm-up; None where the far end does not send, or the connection broke. Raises
    Cancelled."""
    try:
        with socket.create_connection((host, port), timeout=5) as far:
            _greeted(far, host)
            far.sendall(f"send {seconds:g}\n".encode())
            far.settimeout(0.2)
            begun, came, before, since = time.monotonic(), 0, 0, 0.0
            last = 0.0
            while (passed := time.monotonic() - begun) < seconds + 3:
                if cancelled.is_set():
                    raise Cancelled
                told(min(1.0, passed / seconds), came * 8 / max(passed, 0.05) / 1e6)
                try:
                    data = far.recv(65_536)
                except TimeoutError:
                    continue
                if not data:
                    break
                came, last = came + len(data), time.monotonic() - begun
                if not since and last >= warm_up_s(seconds):
                    before, since = came, last
    except (OSError, CannotMeasure):
        return None
    return (came - before) * 8 / (last - since) / 1e6 if since and last > since else None


def _probe(
    host: str, port: int, token: bytes, cancelled: threading.Event, prove_mbps: float
) -> tuple[list[float], float, int]:
    """Round trips in ms, jitter in ms (RFC 3550 §6.4.1, of round trips), and how many probes did not come back: a hundred, and then as many
    as the loss must be counted over at that round trip."""
    rtts, jitter, lost = _probes(host, port, token, cancelled, PROBES, APART_S)
    if not rtts or not prove_mbps:
        return rtts, jitter, lost
    more = min(MOST_PROBES, probes_needed(prove_mbps, median(rtts))) - PROBES
    if more <= 0:
        return rtts, jitter, lost
    others, _, lost_more = _probes(host, port, token, cancelled, more, APART_S / 4, PROBES)
    return [*rtts, *others], jitter, lost + lost_more


def _probes(
    host: str, port: int, token: bytes, cancelled: threading.Event, many: int, apart_s: float, first: int = 0
) -> tuple[list[float], float, int]:
    """The round trips of so many probes, their jitter, and how many of those that were sent did not come back."""
    sent: dict[int, float] = {}
    came: dict[int, float] = {}
    last = 0.0
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as line:
            line.connect((host, port))
            line.settimeout(apart_s / 2)
            until, begun = time.monotonic() + many * apart_s * 2 + 1.0, time.monotonic()
            while len(came) < many:
                now = time.monotonic()
                if cancelled.is_set():
                    raise Cancelled
                if now > until or (len(sent) == many and now > last + _STRAGGLERS_S):
                    break
                due = begun + len(sent) * apart_s
                if len(sent) < many and now >= due:
                    n = first + len(sent)
                    line.send(PROBE + token + n.to_bytes(4, "big"))
                    sent[n] = last = time.monotonic()
                try:
                    back = line.recv(64)
                    n = int.from_bytes(back[-4:], "big")
                    if back == ANSWER + token + n.to_bytes(4, "big") and n not in came:
                        came[n] = 1000 * (time.monotonic() - sent[n])
                except (TimeoutError, KeyError):
                    continue
    except OSError:
        return [], 0.0, 0
    return list(came.values()), jitter_ms([came[n] for n in sorted(came)]), len(sent) - len(came)


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
    command = ["iperf3", "-J", "-c", host, "-p", str(port), "-t", f"{seconds:g}", "--connect-timeout", "5000"]
    text = _said_by(command, seconds + _IPERF3_MORE_S, cancelled)
    try:
        draft = read_iperf3(text).drafts[0]
        return Measurement(
            at=datetime.now(UTC), uplink=uplink, up_mbps=draft.up_mbps or 0, rtt_ms=draft.rtt_ms, jitter_ms=draft.jitter_ms,
            loss_pct=draft.loss_pct, connections=draft.connections, method=draft.method or "iperf3",
        )  # fmt: skip
    except ValidationError:
        raise CannotMeasure(f"What iperf3 says of {host}, port {port} cannot be: is it the right server?") from None  # fmt: skip
    except (ValueError, IndexError) as error:
        raise CannotMeasure(f"iperf3 measured nothing at {host}, port {port}: {error}") from None


def _said_by(command: list[str], within_s: float, cancelled: threading.Event) -> str:
    """What a program prints. It does not outlive this: it is killed when its time is up, it says too much, or it is cancelled.
    Raises CannotMeasure, Cancelled."""
    until = time.monotonic() + within_s
    with (
        tempfile.TemporaryFile() as out,
        subprocess.Popen(command, stdin=subprocess.DEVNULL, stdout=out, stderr=subprocess.DEVNULL) as run,
    ):
        try:
            while run.poll() is None:
                if cancelled.wait(0.1):
                    raise Cancelled
                if time.monotonic() > until or os.fstat(out.fileno()).st_size > _MOST_SAID:
                    raise CannotMeasure(
                        f"{command[0]} did not end in time, or said too much: is the right server at the far end?"
                    )
        finally:
            run.kill()
        out.seek(0)
        return out.read(_MOST_SAID).decode("utf-8", "replace")
