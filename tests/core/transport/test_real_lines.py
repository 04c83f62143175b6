"""Lines for real: the kernel's TCP over a line of TUN devices, and libsrt over one that loses and delays."""

import os
import socket
import subprocess
import threading
import time
from pathlib import Path

from humble_relay.core.transport.srt_retransmission import LossyPath, residual
from humble_relay.core.transport.tcp import MSS, cubic_mbps, mathis_mbps, reno_mbps
from tests import namespaces
from tests.busy import TIMES
from tests.conftest import passed_over
from tests.formats.test_players import free_port, need
from tests.lossy import LossyLine
from tests.real_tcp import TunLine

TCP_LINES = [(80, 1), (80, 2), (40, 2), (160, 0.5), (80, 0.5), (40, 4)]
"""Round trips in ms, losses in percent."""


def test_what_tcp_settles_at_is_what_the_kernels_does() -> None:
    """Six lines, Reno and CUBIC: within a factor of 1.6 of RFC 5348 and RFC 9438, and of Mathis's; BBR is bound by none."""
    if lacking := namespaces.lacking():
        passed_over(lacking)
    found: dict[tuple[str, float, float], float] = {}

    def carry(n: int, by: str, rtt: float, loss: float) -> None:
        line = TunLine(f"hr{os.getpid() % 10_000}-{n}", rtt, loss, 20, seed=n)
        try:
            found[by, rtt, loss] = line.upload_mbps(by, 18, 4)
        finally:
            line.close()

    jobs = [(by, *line) for line in TCP_LINES for by in ("reno", "cubic")] + [("bbr", 80, 1)]
    threads = [threading.Thread(target=carry, args=(n, *job)) for n, job in enumerate(jobs)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    for (by, rtt, loss), mbps in list(found.items()):
        if by == "bbr":
            assert mbps > 4 * mathis_mbps(rtt, loss)
            continue
        sums = (mathis_mbps(rtt, loss, MSS), {"reno": reno_mbps, "cubic": cubic_mbps}[by](rtt, loss))
        for _ in range(TIMES - 1):  # again, alone: a busy machine is a slow line
            if not all(1 / 1.6 < mbps / each < 1.6 for each in sums):
                carry(len(jobs), by, rtt, loss)
                mbps = found[by, rtt, loss]
        assert all(1 / 1.6 < mbps / each < 1.6 for each in sums), (by, rtt, loss, mbps, sums)
    assert len(found) == len(jobs)


SRT_LINES = [(80, 5, 100, 1), (80, 10, 50, 1), (80, 10, 260, 1), (40, 10, 60, 1), (40, 10, 130, 1), (20, 10, 30, 1),
             (80, 10, 100, 5), (120, 20, 160, 1), (40, 18, 160, 1)]  # fmt: skip
"""Round trip in ms, loss in percent, latency in ms, mean burst in packets. The last waits just four round trips: three tries."""
BOTH_WAYS = [(80, 10, 100, 1), (80, 10, 210, 1), (40, 10, 90, 1)]
"""The same, where as many of the reports are lost that ask for a packet again."""
A_SECOND, SECONDS = 200, 16


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
                found[line] = _lost(tmp_path, *line)
        assert expected / 2.5 - 6 <= found[line] <= expected * 2.5 + 6, (line, found[line], expected)
    assert found[80, 10, 50, 1, 0] > found[80, 10, 100, 5, 0] > found[80, 10, 260, 1, 0]
    assert found[40, 10, 60, 1, 0] > found[40, 10, 130, 1, 0]


def _lost(where: Path, rtt: float, loss: float, latency: float, burst: float, back: float = 0.0) -> int:
    """How many of the packets sent while the line loses are never put out by the listener."""
    port, source = free_port(socket.SOCK_DGRAM), free_port(socket.SOCK_DGRAM)
    line = LossyLine(port, rtt, loss, burst, seed=int(rtt + latency), back=bool(back))
    out = where / f"{rtt}-{loss}-{latency}-{burst}-{back}.ts"
    listen = ["srt-live-transmit", "-q", f"srt://:{port}?mode=listener&latency={latency}", "file://con"]
    call = [
        "srt-live-transmit",
        "-q",
        f"udp://127.0.0.1:{source}",
        f"srt://127.0.0.1:{line.port}?latency={latency}",
    ]
    quiet = {"stderr": subprocess.DEVNULL}
    with (
        out.open("wb") as file,
        subprocess.Popen(listen, stdout=file, **quiet) as listener,  # type: ignore[call-overload]
        subprocess.Popen(call, **quiet) as caller,  # type: ignore[call-overload]
        socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sender,
    ):
        time.sleep(1.5)
        begun, first = time.monotonic(), 2 * A_SECOND
        for n in range(first + A_SECOND * SECONDS):
            line.lossy = n >= first
            sender.sendto(b"\x47" + n.to_bytes(4, "big") + bytes(1311), ("127.0.0.1", source))
            time.sleep(max(0.0, begun + (n + 1) / A_SECOND - time.monotonic()))
        time.sleep(0.5 + latency / 1000)
        caller.kill()
        listener.kill()
    line.close()
    data = out.read_bytes()
    came = {int.from_bytes(data[at + 1 : at + 5], "big") for at in range(0, len(data), 1316)}
    return len(set(range(first, first + A_SECOND * SECONDS)) - came)
