"""The kernel's own TCP over a line of a given delay, loss and rate: two TUN devices in two network namespaces, and a carrier
between them in this process (tun(4), setns(2), tcp(7)). Addresses are of the private range; nothing leaves the machine."""

import ctypes
import fcntl
import heapq
import os
import select
import socket
import stat
import struct
import subprocess
import threading
import time
from random import Random
from statistics import fmean

_LIBC = ctypes.CDLL(None, use_errno=True)
_NET = 0x40000000
_TUNSETIFF, _TUN_NO_PI = 0x400454CA, 0x0001 | 0x1000
_QUEUE = 400
"""Packets that wait at the slow end of the line, at most."""


def _within(namespace: str) -> None:
    """Moves this thread into a namespace."""
    with open(f"/run/netns/{namespace}") as there:
        if _LIBC.setns(there.fileno(), _NET):
            raise OSError(ctypes.get_errno(), "setns")


def apart(namespace: str, what):  # type: ignore[no-untyped-def]
    """What a thread of its own comes back with from within a namespace."""
    found: list[object] = []

    def run() -> None:
        _within(namespace)
        found.append(what())

    thread = threading.Thread(target=run)
    thread.start()
    thread.join()
    return found[0]


def _tun() -> int:
    if not os.path.exists("/dev/net/tun"):  # some containers leave the node out, not the device
        os.makedirs("/dev/net", exist_ok=True)
        os.mknod("/dev/net/tun", stat.S_IFCHR | 0o600, os.makedev(10, 200))
    device = os.open("/dev/net/tun", os.O_RDWR | os.O_NONBLOCK)
    fcntl.ioctl(device, _TUNSETIFF, struct.pack("16sH", b"line", _TUN_NO_PI))
    return device


def _round_trip_ms(end: socket.socket) -> float:
    """The smoothed round trip of a connection: `tcpi_rtt` of tcp_info, µs (linux/tcp.h)."""
    info = end.getsockopt(socket.IPPROTO_TCP, socket.TCP_INFO, 104)
    return struct.unpack_from("I", info, 68)[0] / 1000


class TunLine:
    """A line between two namespaces: half the round trip (ms) each way, a rate (Mb/s) and independent loss (%) forth."""

    def __init__(self, name: str, rtt_ms: float, loss_pct: float, rate_mbps: float, seed: int = 1) -> None:
        self.names = (f"{name}a", f"{name}b")
        self._half, self._p, self._rate = rtt_ms / 2000, loss_pct / 100, rate_mbps * 1e6
        self._random = Random(seed)
        self.sent = self.lost = 0
        self.devices = []
        for n, namespace in enumerate(self.names):
            subprocess.run(["ip", "netns", "add", namespace], check=True)
            self.devices.append(apart(namespace, _tun))
            for command in (
                f"addr add 10.9.0.{n + 1}/24 dev line",
                "link set line mtu 1500 up",
                "link set lo up",
            ):
                subprocess.run(["ip", "-n", namespace, *command.split()], check=True)
        self._open = True
        self._thread = threading.Thread(target=self._carry, daemon=True)
        self._thread.start()

    def _carry(self) -> None:
        waiting: list[tuple[float, int, int, bytes]] = []
        free, n = [0.0, 0.0], 0
        while self._open:
            now = time.monotonic()
            while waiting and waiting[0][0] <= now:
                _, _, to, packet = heapq.heappop(waiting)
                os.write(self.devices[to], packet)
            wait = min(0.1, max(0.0, waiting[0][0] - now)) if waiting else 0.1
            for device in select.select(self.devices, [], [], wait)[0]:
                way = self.devices.index(device)
                for _ in range(64):
                    try:
                        packet = os.read(device, 2048)
                    except BlockingIOError:
                        break
                    now, n = time.monotonic(), n + 1
                    if way == 0 and len(packet) > 100:
                        self.sent += 1
                        if self._random.random() < self._p:
                            self.lost += 1
                            continue
                    if free[way] - now > _QUEUE * 12_000 / self._rate:
                        continue
                    free[way] = max(free[way], now) + len(packet) * 8 / self._rate
                    heapq.heappush(waiting, (free[way] + self._half, n, 1 - way, packet))

    def upload(self, congestion: str, seconds: float, settle: float) -> tuple[float, float, float]:
        """What one connection of a congestion control carries, in Mb/s, once it has settled; and what the line was meanwhile: its
        round trip as the kernel measured it, in ms, and its loss in percent (a busy machine is a longer line)."""
        listener = apart(self.names[1], lambda: socket.create_server(("10.9.0.2", 5001)))
        caller = apart(self.names[0], lambda: socket.socket(socket.AF_INET, socket.SOCK_STREAM))
        caller.setsockopt(socket.IPPROTO_TCP, socket.TCP_CONGESTION, congestion.encode())
        caller.settimeout(seconds + 5)
        caller.connect(("10.9.0.2", 5001))
        taken, _ = listener.accept()
        taken.settimeout(1)
        ends = time.monotonic() + seconds

        def send() -> None:
            try:
                while time.monotonic() < ends:
                    caller.send(bytes(65536))
            except OSError:
                pass

        sender = threading.Thread(target=send, daemon=True)
        sender.start()
        got, since = 0, None
        trips: list[float] = []
        begun = time.monotonic()
        while (now := time.monotonic()) < ends:
            if since is None and now - begun > settle:
                got, since, self.sent, self.lost = 0, now, 0, 0
            if since is not None:
                trips.append(_round_trip_ms(caller))
            try:
                got += len(taken.recv(1 << 20))
            except TimeoutError:
                continue
        rate = got * 8 / (time.monotonic() - (since or begun)) / 1e6
        for end in (caller, taken, listener):
            end.close()
        sender.join(2)
        return rate, fmean(trips), 100 * self.lost / self.sent

    def close(self) -> None:
        """Takes the line down."""
        self._open = False
        self._thread.join(2)
        for device in self.devices:
            os.close(device)
        for namespace in self.names:
            subprocess.run(["ip", "netns", "del", namespace], check=False)
