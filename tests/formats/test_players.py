"""The addresses that each side is told to type, typed: SRT into two real ends, RTMP and RTSP into a real publisher and listener."""

import shutil
import socket
import subprocess
import sys
import time
from pathlib import Path

import pytest

from humble_relay.core.endpoints.endpoint_settings import settings_of_each_side
from humble_relay.core.endpoints.stream_urls import with_stream_id
from humble_relay.core.plan import Stream
from tests.build import case_of, put, put_port, small_show
from tests.conftest import passed_over
from tests.shows import SHOWS

PICTURE = [
    "-f",
    "lavfi",
    "-i",
    "testsrc=size=320x180:rate=25",
    "-c:v",
    "libx264",
    "-preset",
    "ultrafast",
    "-t",
    "4",
    "-g",
    "25",
]


def need(tool: str) -> None:
    """Skips where the tool is not there; in CI that is a failure."""
    if not shutil.which(tool):
        passed_over(f"{tool} is not installed (Debian: srt-tools, ffmpeg)")


def free_port(kind: socket.SocketKind) -> int:
    """A port of loopback that nobody has."""
    with socket.socket(socket.AF_INET, kind) as found:
        found.bind(("127.0.0.1", 0))
        port: int = found.getsockname()[1]
        return port


def typed(protocol: str, port: int, path: str = "") -> dict[str, str]:
    """What each box of a stream within a site is told to type, with loopback in place of the address of the box that is called."""
    called = "hide" if protocol == "rtsp" else "decoder"
    edits = [put("link", "watch", "protocol", protocol), put("link", "watch", "key", "stern-lantern" if protocol == "srt" else None),
             put_port(f"{called}/lan", "interface.addressing", "fixed"), put_port(f"{called}/lan", "interface.address", "192.168.20.41"),
             put("link", "watch", "address", f"{protocol}://192.168.20.41:{port}{path}")]  # fmt: skip
    if called == "decoder":
        edits.append(put_port("hide/lan", "interface.address", "192.168.20.42"))
    case = case_of(small_show(*SHOWS["pole"], *edits))
    stream = case.links["watch"]
    assert isinstance(stream, Stream)
    return {
        side.device: side.types.replace("192.168.20.41", "127.0.0.1")
        for side in settings_of_each_side(case, stream)
    }


def test_srt_ends_take_the_addresses_that_they_are_told(tmp_path: Path) -> None:
    """What is sent goes from caller to listener, encrypted, and by a stream id; with another passphrase nothing does."""
    need("srt-live-transmit")
    for passphrase, arrives in (("stern-lantern", True), ("other-lantern", False)):
        port, incoming = free_port(socket.SOCK_DGRAM), free_port(socket.SOCK_DGRAM)
        sides = typed("srt", port)
        assert sides["decoder"] == f"srt://:{port}?mode=listener"
        out = tmp_path / f"{passphrase}.ts"
        listen = ["srt-live-transmit", "-q", f"{sides['decoder']}&passphrase=stern-lantern", "file://con"]
        call = [
            "srt-live-transmit",
            "-q",
            f"udp://127.0.0.1:{incoming}",
            f"{with_stream_id(sides['hide'], '#!::r=deck,m=publish')}&passphrase={passphrase}",
        ]
        with (
            out.open("wb") as file,
            subprocess.Popen(listen, stdout=file) as listener,
            subprocess.Popen(call, stderr=subprocess.DEVNULL) as caller,
        ):
            try:
                with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as source:
                    for n in range(60):
                        source.sendto(bytes([0x47, n]) * 658, ("127.0.0.1", incoming))
                        time.sleep(0.04)
                        if out.stat().st_size > 20_000:
                            break
            finally:
                caller.kill()
                listener.kill()
        assert (out.stat().st_size > 10_000) == arrives


@pytest.mark.parametrize("protocol", ["rtmp", "rtsp"])
def test_a_real_picture_goes_by_the_addresses_that_are_told(protocol: str, tmp_path: Path) -> None:
    """RTMP is published to its listener; for RTSP ffmpeg listens for a publisher at the very address that is pulled."""
    need("ffmpeg")
    port = free_port(socket.SOCK_STREAM)
    sides = typed(protocol, port, "/live/deck" if protocol == "rtmp" else "/main")
    address = sides["hide" if protocol == "rtmp" else "decoder"]
    out = tmp_path / "seen.ts"
    flags = ["-listen", "1"] if protocol == "rtmp" else ["-rtsp_flags", "listen"]
    quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "stdin": subprocess.DEVNULL}
    with subprocess.Popen(
        ["ffmpeg", "-y", *flags, "-i", address, "-c", "copy", "-t", "3", str(out)], **quiet
    ) as taker:  # type: ignore[call-overload]
        try:
            time.sleep(1)
            form = ["-f", "flv"] if protocol == "rtmp" else ["-f", "rtsp", "-rtsp_transport", "tcp"]
            done = subprocess.run(["ffmpeg", "-re", *PICTURE, *form, address], timeout=60, **quiet)  # type: ignore[call-overload]
            taker.wait(timeout=15)
        finally:
            taker.kill()  # a listener that nobody called would wait for ever
    assert size_of(str(out)) == "320,180", done


def size_of(address: str) -> str:
    """The raster of a file or an address, as ffprobe sees it."""
    told = ["ffprobe", "-v", "error", "-show_entries", "stream=width,height", "-of", "csv=p=0", address]
    seen = subprocess.run(told, capture_output=True, text=True, timeout=30)
    return seen.stdout.strip().splitlines()[0].rstrip(",") if seen.stdout.strip() else seen.stderr


def test_segments_are_asked_for_at_the_address_that_is_told(tmp_path: Path) -> None:
    """Real segments and their list (RFC 8216), served where the taker is told to ask."""
    need("ffmpeg")
    there, port = tmp_path / "live", free_port(socket.SOCK_STREAM)
    there.mkdir()
    subprocess.run(
        ["ffmpeg", "-v", "error", *PICTURE, "-f", "hls", str(there / "watch.m3u8")], check=True, timeout=60
    )
    case = case_of(small_show(*SHOWS["pole"], put("link", "watch", "protocol", "hls")))
    stream = case.links["watch"]
    assert isinstance(stream, Stream)
    taker, sender = settings_of_each_side(case, stream)
    assert (taker.types, taker.device) == (
        "http://192.168.20.41/live/watch.m3u8",
        "decoder",
    ) and "TCP port 80" in sender.sets
    serve = [
        sys.executable,
        "-m",
        "http.server",
        str(port),
        "--bind",
        "127.0.0.1",
        "--directory",
        str(tmp_path),
    ]
    with subprocess.Popen(serve, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL) as server:
        try:
            time.sleep(1)
            assert size_of(taker.types.replace("192.168.20.41", f"127.0.0.1:{port}")) == "320,180"
        finally:
            server.kill()
