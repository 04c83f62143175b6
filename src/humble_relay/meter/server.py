"""The far end of a measurement: it takes what is sent over one TCP connection and says how much came, and returns probes over UDP.

The talk is one line each way. It greets with `humble-relay-meter 2 <token>`, is told `measure <seconds>`, and says in the end
`<bytes> <seconds>`, of what came after the warm-up: until then TCP feels its way up. Told `send <seconds>`, on a connection of its own, it
sends for so long, and closes: what came is for the other end to count. The kernel sizes the buffers (a small one of
ours would be the limit: buffer ÷ round trip). A probe is `hrm?`, the token and what its sender likes; it comes back as `hrm!` with the rest as it is, no
longer than it came, and only while the connection of that token is open, to the address that it is from: nobody else's address
can be flooded with answers, and no answer is ever answered. With a simulated line it takes no faster than that carries, and
delays and loses probes as that does.
"""

import math
import secrets
import socket
import threading
import time
from contextlib import suppress
from random import Random

from humble_relay.meter.lines import SimulatedLine

LONGEST_S = 60.0
CALLERS = 8
"""Measurements at once; one more is told to come back."""
GREETING = b"humble-relay-meter 2 "
PROBE, ANSWER = b"hrm?", b"hrm!"
TOKEN_BYTES = 8
LONGEST_LINE = 100
_CHUNK = 16_384
_LARGEST_PROBE = 64


class MeterServer:
    """Listens on one port for both; use it as a context. `hour` is the hour of the day that a simulated line is at."""

    def __init__(
        self, host: str = "127.0.0.1", port: int = 0, line: SimulatedLine | None = None, hour: int = 12
    ) -> None:
        self._line, self._hour, self._random = line, hour, Random(1)
        self._listener, self._probes = _one_port(host, port)
        if line:  # a simulated line is as slow as it is read
            self._listener.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 65_536)
        self.port: int = self._listener.getsockname()[1]
        self._open = True
        self._callers: dict[bytes, str] = {}
        """The address of each who measures now, by its token."""

    def __enter__(self) -> "MeterServer":
        for work in (self._take, self._return):
            threading.Thread(target=work, daemon=True).start()
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        """Ends; a measurement under way is cut off."""
        self._open = False
        for end in (self._listener, self._probes):
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()

    def _take(self) -> None:
        while self._open:
            try:
                caller, (address, *_) = self._listener.accept()
            except OSError:  # out of descriptors, or a caller who went away: others still come
                time.sleep(0.05)
                continue
            token = secrets.token_bytes(TOKEN_BYTES)
            if len(self._callers) >= CALLERS:
                with caller, suppress(OSError):
                    caller.sendall(b"busy\n")
                continue
            self._callers[token] = address
            try:
                threading.Thread(target=self._measure, args=(caller, token), daemon=True).start()
            except RuntimeError:  # no thread to be had
                del self._callers[token]
                caller.close()

    def _measure(self, caller: socket.socket, token: bytes) -> None:
        try:
            with caller, suppress(OSError, ValueError):
                caller.settimeout(10)
                caller.sendall(GREETING + token.hex().encode() + b"\n")
                what, _, how_long = line_of(caller, 60).partition(b" ")  # its probes go before
                seconds = float(how_long)
                if what not in (b"measure", b"send") or not 0 < seconds <= LONGEST_S:
                    return
                if what == b"send":
                    self._sent(caller, seconds)
                    return
                came, took = self._taken(caller, seconds)
                caller.sendall(f"{came} {took:.6f}\n".encode())
                _drained(caller)
        finally:
            del self._callers[token]

    def _taken(self, caller: socket.socket, seconds: float) -> tuple[int, float]:
        """How many bytes came after the warm-up, and in how many seconds. Raises OSError where the connection broke or stood still."""
        warm, before, since = warm_up_s(seconds), 0, 0.0
        rate = self._line.carries_mbps(self._hour) * 1e6 / 8 if self._line else math.inf
        begun, came = time.monotonic(), 0
        while self._open and (now := time.monotonic() - begun) < seconds:
            if _ahead(rate, now, came):
                continue
            caller.settimeout(max(0.1, seconds - now))
            data = caller.recv(_CHUNK)
            if not data:
                raise ConnectionError("the caller went away")
            came += len(data)
            if not since and (now := time.monotonic() - begun) >= warm:
                before, since = came, now
        return came - before, time.monotonic() - begun - since

    def _sent(self, caller: socket.socket, seconds: float) -> None:
        """Sends for so long, as fast as the line carries. Raises OSError where the connection broke or stood still."""
        rate = self._line.down_mbps * 1e6 / 8 if self._line else math.inf
        begun, sent, data = time.monotonic(), 0, bytes(_CHUNK)
        while self._open and (now := time.monotonic() - begun) < seconds:
            if _ahead(rate, now, sent):
                continue
            caller.settimeout(max(0.1, seconds - now))
            sent += caller.send(data)

    def _return(self) -> None:
        while self._open:
            try:
                probe, origin = self._probes.recvfrom(_LARGEST_PROBE)
            except OSError:
                time.sleep(
                    0.01
                )  # the probe before this one was refused where it went back to, or this is the end
                continue
            token = probe[len(PROBE) : len(PROBE) + TOKEN_BYTES]
            if origin is None or not probe.startswith(PROBE) or self._callers.get(token) != origin[0]:
                continue
            answer = ANSWER + probe[len(PROBE) :]
            if self._line is None:
                self._send(answer, origin)
            elif self._random.random() * 100 >= self._line.loss_pct:
                wander = self._random.expovariate(1) * self._line.rtt_ms * 0.03
                threading.Timer((self._line.rtt_ms + wander) / 1000, self._send, (answer, origin)).start()

    def _send(self, probe: bytes, origin: tuple[str, int]) -> None:
        with suppress(OSError):
            self._probes.sendto(probe, origin)


def _one_port(host: str, port: int) -> tuple[socket.socket, socket.socket]:
    """Both ends on one port: the one given, or (0) one that is free for TCP and for UDP. Raises OSError where it is taken."""
    for left in reversed(range(10)):
        listener = socket.create_server((host, port), backlog=CALLERS)
        probes = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        try:
            probes.bind((host, listener.getsockname()[1]))
            return listener, probes
        except OSError:
            listener.close()
            probes.close()
            if port or not left:
                raise
    raise AssertionError


def _ahead(rate: float, now: float, done: int) -> bool:
    """Whether more is done than a line of so many bytes/s carries until now (s); then some of the time has been waited."""
    over = done - rate * now
    if over > 0:
        time.sleep(min(0.05, over / rate))
    return over > 0


def warm_up_s(seconds: float) -> float:
    """How long of a measurement is left out, in s: slow start takes some ten round trips (RFC 5681 §3.1)."""
    return min(2.0, seconds / 4)


def _drained(caller: socket.socket) -> None:
    """Takes what is still on its way for a moment: closing on it would reset the connection, and the answer with it (RFC 9293 §3.10.7)."""
    caller.shutdown(socket.SHUT_WR)
    caller.settimeout(1)
    until = time.monotonic() + 3
    while time.monotonic() < until and caller.recv(_CHUNK):
        pass


def line_of(end: socket.socket, within_s: float) -> bytes:
    """One line as it comes, without its end. Raises ValueError for one that is too long, TimeoutError, ConnectionError."""
    found, until = b"", time.monotonic() + within_s
    while not found.endswith(b"\n"):
        if len(found) >= LONGEST_LINE:
            raise ValueError("the line is too long")
        left = until - time.monotonic()
        if left <= 0:
            raise TimeoutError("the line did not come whole")
        end.settimeout(left)
        piece = end.recv(1)
        if not piece:
            raise ConnectionError("the connection ended")
        found += piece
    return found.strip()
