"""Lines for real: the kernel's TCP over a line of TUN devices, and libsrt over one that loses and delays."""

import contextlib
import math
import os
import socket
import subprocess
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from statistics import fmean, median
from typing import IO

from humble_relay.core.transport.srt_retransmission import LossyPath, bridged_ms, residual
from humble_relay.core.transport.tcp import MSS, cubic_mbps, mathis_mbps, reno_mbps
from tests import namespaces, soak
from tests.busy import TIMES, measured_again, until_quiet
from tests.conftest import passed_over
from tests.formats.test_players import free_port, need
from tests.lossy import LossyLine
from tests.real_tcp import TunLine
from tests.soak import of_many

pytestmark = soak.further
TCP_LINES = [(80, 1), (20, 4), (150, 0.5), (80, 2), (80, 0.5), (200, 1)][: of_many(3, 6)]
"""Round trips in ms, losses in percent. All six in `make soak`."""


def test_what_tcp_settles_at_is_what_the_kernels_does() -> None:
    """On each line, Reno and CUBIC: within a factor of 1.6 of RFC 5348 and RFC 9438, and of Mathis's; BBR is bound by none."""
    if lacking := namespaces.lacking():
        passed_over(lacking)
    found: dict[tuple[str, float, float], list[tuple[float, float, float]]] = defaultdict(list)

    def carry(n: int, by: str, rtt: float, loss: float) -> None:
        line = TunLine(f"hr{os.getpid() % 10_000}-{n}", rtt, loss, 20, seed=n)
        try:
            found[by, rtt, loss].append(line.upload(by, 18, 4))
        finally:
            line.close()

    def wrong(by: str, runs: list[tuple[float, float, float]]) -> str:
        """What the runs carried is held against the lines that they really had."""
        mbps, rtt, loss = (fmean(each) for each in zip(*runs, strict=True))
        mathis = mathis_mbps(rtt, loss, MSS)
        if by == "bbr":
            return "" if mbps > 4 * mathis else f"{mbps} of {mathis}"
        sums = [{"reno": reno_mbps, "cubic": cubic_mbps}[by](rtt, loss)]
        if loss < 3:  # Mathis leaves out timeouts, which come with small windows
            sums.append(mathis)
        good = all(1 / 1.6 < mbps / each < 1.6 for each in sums) and mbps < 1.6 * mathis
        return "" if good else f"{mbps} of {sums}, {rtt} ms, {loss} %"

    # On a long line few packets are lost in that time: it is carried three times.
    lines = [line for line in TCP_LINES for _ in range(3 if line[0] >= 200 else 1)]
    jobs = [(by, *line) for line in lines for by in ("reno", "cubic")] + [("bbr", 80, 1)]
    threads = [threading.Thread(target=carry, args=(n, *job)) for n, job in enumerate(jobs)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert sum(map(len, found.values())) == len(jobs)
    for (by, rtt, loss), runs in found.items():
        for n in range(TIMES - 1):  # again, alone, and that alone: a busy machine loses what it cannot carry
            if wrong(by, runs):
                until_quiet()
                carry(len(jobs) + n, by, rtt, loss)
                del runs[0]
        assert not wrong(by, runs), (by, rtt, loss, wrong(by, runs))


SRT_LINES = [(80, 10, 50, 1), (80, 10, 260, 1), (40, 10, 60, 1), (40, 10, 130, 1), (80, 10, 100, 5),
             (80, 5, 100, 1), (20, 10, 30, 1), (120, 20, 160, 1), (40, 18, 160, 1)][: of_many(5, 9)]  # fmt: skip
"""Round trip in ms, loss in percent, latency in ms, mean burst in packets. The last waits just four round trips: three tries."""
BOTH_WAYS = [(40, 10, 90, 1), (80, 10, 100, 1), (80, 10, 210, 1)][: of_many(1, 3)]
"""The same, where as many of the reports are lost that ask for a packet again."""
OUTAGES = [(80, 500, 320), (20, 200, 240), (80, 500, 370), (80, 500, 470), (20, 200, 130)][: of_many(2, 5)]
"""Round trip, latency, and how long nothing gets through, each fourth second, in ms."""
A_SECOND, SECONDS = 200, 16
FIRST, LAST = 2 * A_SECOND, (2 + SECONDS) * A_SECOND
"""The packets that are sent while the line loses; before, it does not."""


def test_what_srt_leaves_lost_is_what_libsrt_does(tmp_path: Path) -> None:
    """Real ends over a line that loses and delays: what is left within a factor of 2.5 and six packets of the sum, and less
    with more latency."""
    need("srt-live-transmit")
    found: dict[tuple[float, ...], int] = {}
    lines = [*((*line, 0.0) for line in SRT_LINES), *((*line, line[1]) for line in BOTH_WAYS)]
    threads = [
        threading.Thread(target=lambda line=line: found.update({line: _lost(tmp_path, *line)}))
        for line in lines
    ]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    for line in lines:
        rtt, loss, latency, burst, back = line
        path = LossyPath(rtt, loss, burst, A_SECOND * 1316 * 8 / 1e6, back)
        expected = residual(path, latency) * A_SECOND * SECONDS
        for _ in range(TIMES - 1):  # again, alone: a busy machine loses packets too
            if not expected / 2.5 - 6 <= found[line] <= expected * 2.5 + 6:
                until_quiet()
                found[line] = _lost(tmp_path, *line)
        assert expected / 2.5 - 6 <= found[line] <= expected * 2.5 + 6, (line, found[line], expected)
    assert found[80, 10, 50, 1, 0] > found[80, 10, 100, 5, 0] > found[80, 10, 260, 1, 0]
    assert found[40, 10, 60, 1, 0] > found[40, 10, 130, 1, 0]


@measured_again
def test_what_outage_srt_bridges_is_what_libsrt_does() -> None:
    """As long as the sum says, nobody sees it; beyond, that much is late at least (libsrt holds back what comes again, and more is). An
    outage does the same each time; a busy machine holds packets back in some of them."""
    need("srt-live-transmit")
    with ThreadPoolExecutor() as each:
        found = list(each.map(lambda out: _late(*out), OUTAGES))
    for (rtt, latency, out_ms), late in zip(OUTAGES, found, strict=True):
        beyond = out_ms - bridged_ms(LossyPath(rtt, 0, 1, 2), latency)
        least = 0.7 * beyond / 1000 * A_SECOND
        assert min(late) >= least if beyond > 0 else min(late) <= 2, (rtt, latency, out_ms, late, least)


def _lost(where: Path, rtt: float, loss: float, latency: float, burst: float, back: float = 0.0) -> int:
    """How many of the packets sent while the line loses are never put out by the listener."""
    with LossyLine(
        port := free_port(socket.SOCK_DGRAM), rtt, loss, burst, int(rtt + latency), bool(back)
    ) as line:
        out = where / f"{rtt}-{loss}-{latency}-{burst}-{back}.ts"
        with out.open("wb") as file:
            _sent(port, line, latency, "file://con", lambda _: line.lose(), file)
        data = out.read_bytes()
    came = {int.from_bytes(data[at + 1 : at + 5], "big") for at in range(0, len(data), 1316)}
    return len(set(range(FIRST, LAST)) - came)


def _late(rtt: float, latency: float, out_ms: float) -> list[int]:
    """Of each four seconds, in the first of which nothing gets through for a while: how many packets come later than they did before,
    or never."""
    with (
        LossyLine(port := free_port(socket.SOCK_DGRAM), rtt, 0) as line,
        socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sink,
    ):
        sink.bind(("127.0.0.1", 0))
        sink.settimeout(0.2)
        came: dict[int, float] = {}

        def take() -> None:
            while line.open:
                with contextlib.suppress(OSError):
                    came[int.from_bytes(sink.recv(2048)[1:5], "big")] = time.monotonic()

        threading.Thread(target=take, daemon=True).start()
        into = f"udp://127.0.0.1:{sink.getsockname()[1]}"
        gone = lambda n: line.lose((n - FIRST) % (4 * A_SECOND) < out_ms / 1000 * A_SECOND)  # noqa: E731
        sent = _sent(port, line, latency, into, gone)
    usual = median(came[n] - sent[n] for n in range(FIRST) if n in came)
    late = [n for n in range(FIRST, LAST) if came.get(n, math.inf) - sent[n] > usual + 0.05]
    cycle = 4 * A_SECOND
    return [sum((n - FIRST) // cycle == each for n in late) for each in range((LAST - FIRST) // cycle)]


def _sent(
    port: int,
    line: LossyLine,
    latency: float,
    into: str,
    before: Callable[[int], None],
    file: IO[bytes] | None = None,
) -> list[float]:
    """When each packet was sent from a real caller over the line to a real listener, which puts out what it gets."""
    listen = ["srt-live-transmit", "-q", f"srt://:{port}?mode=listener&latency={latency}", into]
    source = free_port(socket.SOCK_DGRAM)
    call = ["srt-live-transmit", "-q", f"udp://127.0.0.1:{source}", f"srt://127.0.0.1:{line.port}?latency={latency}"]  # fmt: skip
    with (
        subprocess.Popen(listen, stdout=file, stderr=subprocess.DEVNULL) as listener,
        subprocess.Popen(call, stderr=subprocess.DEVNULL) as caller,
        socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sender,
    ):
        time.sleep(1.5)
        begun, sent = time.monotonic(), []
        for n in range(LAST):
            if n >= FIRST:
                before(n)
            sent.append(time.monotonic())
            sender.sendto(b"\x47" + n.to_bytes(4, "big") + bytes(1311), ("127.0.0.1", source))
            time.sleep(max(0.0, begun + (n + 1) / A_SECOND - time.monotonic()))
        time.sleep(0.5 + latency / 1000)
        caller.kill()
        listener.kill()
    return sent
