"""The far end of a measurement: it takes what is sent over one TCP connection and says how much came, and returns probes over UDP.

The talk is one line each way: `measure <seconds>` and, at the end, `<bytes> <seconds>`. A probe is any datagram; it comes back as
it is. With a simulated line it takes no faster than that carries, and delays and loses probes as that does.
"""

import socket
import threading
import time
from contextlib import suppress
from random import Random

from humble_relay.meter.lines import SimulatedLine

LONGEST_S = 60.0
_CHUNK = 16_384
_GREETING = b"humble-relay-meter 1\n"


class MeterServer:
    """Listens on one port for both; use it as a context. `hour` is the hour of the day that a simulated line is at."""

    def __init__(
        self, host: str = "127.0.0.1", port: int = 0, line: SimulatedLine | None = None, hour: int = 12
    ) -> None:
        self._line, self._hour, self._random = line, hour, Random(1)
        self._listener = socket.create_server((host, port), backlog=4)
        self._listener.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 65_536)
        self.port: int = self._listener.getsockname()[1]
        self._probes = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        self._probes.bind((host, self.port))
        self._open = True

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
                caller, _ = self._listener.accept()
            except OSError:
                return
            threading.Thread(target=self._measure, args=(caller,), daemon=True).start()

    def _measure(self, caller: socket.socket) -> None:
        with caller, suppress(OSError, ValueError):
            caller.settimeout(10)
            caller.sendall(_GREETING)
            seconds = min(LONGEST_S, float(_line_of(caller).removeprefix(b"measure ")))
            rate = self._line.carries_mbps(self._hour) * 1e6 / 8 if self._line else float("inf")
            begun, came = time.monotonic(), 0
            while self._open and (now := time.monotonic() - begun) < seconds:
                due = rate * now - came
                if due < 0:
                    time.sleep(min(0.05, -due / rate))
                    continue
                data = caller.recv(_CHUNK)
                if not data:
                    return
                came += len(data)
            caller.sendall(f"{came} {time.monotonic() - begun:.6f}\n".encode())

    def _return(self) -> None:
        while self._open:
            try:
                probe, origin = self._probes.recvfrom(2048)
            except OSError:
                return
            if origin is None:  # woken by the end
                return
            if self._line is None:
                self._send(probe, origin)
            elif self._random.random() * 100 >= self._line.loss_pct:
                wander = self._random.expovariate(1) * self._line.rtt_ms * 0.03
                threading.Timer((self._line.rtt_ms + wander) / 1000, self._send, (probe, origin)).start()

    def _send(self, probe: bytes, origin: tuple[str, int]) -> None:
        with suppress(OSError):
            self._probes.sendto(probe, origin)


def _line_of(caller: socket.socket) -> bytes:
    """One line as it comes, at most 100 bytes of it."""
    found = b""
    while not found.endswith(b"\n") and len(found) < 100:
        piece = caller.recv(1)
        if not piece:
            raise ValueError("the connection ended")
        found += piece
    return found.strip()
