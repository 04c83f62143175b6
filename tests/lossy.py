"""A line on loopback for datagrams: it delays each way, and loses what is told, alone or in bursts. A stand-in for the internet."""

import heapq
import socket
import threading
import time
from random import Random


class LossyLine:
    """Forwards between whoever calls `port` and a listener: half the round trip (ms) each way, losing forth only (percent), or alone and
    as much on the way back."""

    def __init__(
        self,
        to_port: int,
        rtt_ms: float,
        loss_pct: float,
        burst: float = 1,
        seed: int = 0,
        back: bool = False,
    ) -> None:
        self._loses_back, self._other = back, Random(seed + 1)
        self._near, self._far = (socket.socket(socket.AF_INET, socket.SOCK_DGRAM) for _ in range(2))
        for end in (self._near, self._far):
            end.bind(("127.0.0.1", 0))
            end.settimeout(0.2)
            end.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4_000_000)
        self.port: int = self._near.getsockname()[1]
        self._to, self._caller = ("127.0.0.1", to_port), None
        self._delay, self._random, self._bad = rtt_ms / 2000, Random(seed), False
        self._leave, p = 1 / burst, loss_pct / 100
        self._enter = p * self._leave / (1 - p) if burst > 1 else p
        self._alone = burst <= 1
        self.open = True
        self.lossy = self.out = False
        """Whether it loses already, or all: a connection is made first."""
        self._threads = [
            threading.Thread(target=self._forth, daemon=True),
            threading.Thread(target=self._back, daemon=True),
        ]
        for each in self._threads:
            each.start()

    def lose(self, all: bool = False) -> None:
        """Begins to lose what it is told; or all that goes forth, until it is told otherwise."""
        self.lossy, self.out = True, all

    def _loses(self) -> bool:
        if self.out:
            return True
        if not self.lossy:
            return False
        if self._alone:
            return self._random.random() < self._enter
        self._bad = self._random.random() >= self._leave if self._bad else self._random.random() < self._enter
        return self._bad

    def _forth(self) -> None:
        self._carry(self._near, lambda data: self._far.sendto(data, self._to), self._loses, caller=True)

    def _back(self) -> None:
        self._carry(
            self._far,
            lambda data: self._caller and self._near.sendto(data, self._caller),
            lambda: self._loses_back and self.lossy and self._other.random() < self._enter,
        )

    def _carry(self, end, send, loses, caller=False) -> None:  # type: ignore[no-untyped-def]
        waiting: list[tuple[float, int, bytes]] = []
        n = 0
        while self.open:
            now = time.monotonic()
            while waiting and waiting[0][0] <= now:
                send(heapq.heappop(waiting)[2])
            end.settimeout(max(0.0005, min(0.2, waiting[0][0] - now)) if waiting else 0.2)
            try:
                data, origin = end.recvfrom(2048)
            except TimeoutError:
                continue
            if caller:
                self._caller = origin
            if not loses():
                n += 1
                heapq.heappush(waiting, (time.monotonic() + self._delay, n, data))

    def __enter__(self) -> "LossyLine":
        return self

    def __exit__(self, *_: object) -> None:
        """Ends both ways."""
        self.open = False
        for each in self._threads:
            each.join(2)
        self._near.close()
        self._far.close()
