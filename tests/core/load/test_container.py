"""What a transport stream weighs beside what is in it: held against a muxer."""

import subprocess
from pathlib import Path

import pytest

from humble_relay.core.judging.working import Figures
from humble_relay.core.load.stream_load import load
from humble_relay.core.plan import Stream
from tests.build import hd
from tests.formats.test_players import need


@pytest.mark.parametrize(("kbps", "rate"), [(2000, "25"), (2000, "50"), (6000, "25")])
def test_a_transport_stream_weighs_what_ffmpeg_makes_of_it(kbps: int, rate: str, tmp_path: Path) -> None:
    """Pictures and sound of ten seconds, put into MPEG-TS (ISO/IEC 13818-1) by ffmpeg: the share on top within half a percent."""
    need("ffmpeg")
    out = tmp_path / "made.ts"
    picture = ["-f", "lavfi", "-i", f"testsrc2=size=640x360:rate={rate}", "-f", "lavfi", "-i", "sine=sample_rate=48000", "-t", "10"]  # fmt: skip
    video = ["-c:v", "libx264", "-preset", "ultrafast", "-b:v", f"{kbps}k", "-minrate", f"{kbps}k", "-maxrate", f"{kbps}k", "-bufsize", f"{kbps}k", "-x264-params", "nal-hrd=cbr"]  # fmt: skip
    subprocess.run(["ffmpeg", "-v", "error", *picture, *video, "-c:a", "aac", "-b:a", "160k", str(out)], check=True, timeout=120)  # fmt: skip
    inside = 0
    for part in ("v:0", "a:0"):
        sizes = subprocess.run(["ffprobe", "-v", "error", "-select_streams", part, "-show_entries", "packet=size", "-of", "csv=p=0", str(out)], capture_output=True, text=True, check=True).stdout  # fmt: skip
        inside += sum(int(line.strip(",")) for line in sizes.split() if line.strip(","))
    mbps = {"video_mbps": kbps / 1000, "audio_kbps": 160}
    stream = Stream.model_validate({"id": "s", "name": "S", "from_device": "a", "to_device": "b", "protocol": "srt", "format": hd(rate), **mbps})  # type: ignore[arg-type]  # fmt: skip
    found = load(stream, Figures({}))
    ours = found.container_mbps / (found.video_mbps + found.audio_mbps)
    assert ours == pytest.approx(out.stat().st_size / inside - 1, abs=0.005)
