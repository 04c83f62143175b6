"""Whether what takes a stream decodes its picture: codec, raster and bit depth."""

from collections.abc import Iterator

from humble_relay.core.catalogue.takes import UP_TO_HD, UP_TO_UHD
from humble_relay.core.catalogue.words import CODEC_WORDS
from humble_relay.core.judging.answer import HOLDS, Choice, Thing, Verdict, Want, Words, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.plan import Decoding, Device, Stream
from humble_relay.core.plan.video import frames_per_second

MOST_PIXELS, MOST_RATE = 1920 * 1080, 60
"""What every decoder takes, unless its maker says otherwise (common practice, no source)."""


def _decoded(case: Case) -> Iterator[tuple[Thing, tuple[Stream, Device, Decoding]]]:
    for stream in case.streams:
        taker = case.devices[stream.to_device]
        if taker.decoding and not taker.ingest and stream.protocol in taker.decoding.protocols:
            yield Thing("link", stream.id, "decoded"), (stream, taker, taker.decoding)


DECODED: SubjectKind[tuple[Stream, Device, Decoding]] = SubjectKind("stream that a device decodes", _decoded)


@check(
    "not-decoded", DECODED, "gear", "Does what takes it decode this codec, raster and bit depth?", "the maker's data", "gear",
    tried=True,
)  # fmt: skip
def not_decoded(_: Case, what: tuple[Stream, Device, Decoding]) -> Verdict:
    """Whether a decoder takes the codec, the picture and the bit depth of a stream. Where nobody said, every one of them takes H.264,
    up to 1920 × 1080 at 60 frames/s, 8 bits a sample; the codecs of NDI, of paired and of browser links belong to the protocol."""
    stream, taker, takes = what
    device, fmt = Thing("device", taker.id), stream.format
    own = stream.protocol in ("web", "ndi", "paired")
    if not own and takes.codecs is None and stream.codec != "h264":
        asked = f"Does {taker.model or taker.name} decode {CODEC_WORDS[stream.codec]}?"
        both = (Choice(value=["h264", stream.codec], words="yes"), Choice(value=["h264"], words="no"))
        return wants(Want(device, "decoding.codecs", asked, model=taker.model, choices=both))
    if not own and takes.codecs is not None and stream.codec not in takes.codecs:
        known = listed(CODEC_WORDS[c] for c in takes.codecs)
        return fails(
            lambda: _cannot(stream, taker, f"decodes {known}, and it is {CODEC_WORDS[stream.codec]}")
        )
    deep = stream.bit_depth or 8
    if takes.accepts is not None:
        if reason := takes.accepts.refusal(fmt):
            return fails(lambda: _cannot(stream, taker, reason))
    elif stream.protocol != "web" and (
        fmt.width * fmt.height > MOST_PIXELS or frames_per_second(fmt.rate) > MOST_RATE
    ):
        asked = f"Which pictures does {taker.model or taker.name} decode? It is sent {fmt.label}."
        choices = (
            Choice(value={"rasters": list(UP_TO_UHD)}, words="up to 3840 × 2160"),
            Choice(value={"rasters": list(UP_TO_HD)}, words="up to 1920 × 1080"),
        )
        return wants(Want(device, "decoding.accepts", asked, model=taker.model, choices=choices))
    if deep > 8 and takes.bit_depth is None:
        ten = (Choice(value=10, words="10 bits"), Choice(value=8, words="8 bits only"))
        asked = f"Does {taker.model or taker.name} decode 10 bits a sample?"
        return wants(Want(device, "decoding.bit_depth", asked, model=taker.model, choices=ten))
    if deep > (takes.bit_depth or 8):
        return fails(
            lambda: _cannot(stream, taker, f"decodes {takes.bit_depth or 8} bits a sample, and it has {deep}")
        )
    return HOLDS


def _cannot(stream: Stream, taker: Device, why: str) -> Words:
    return Words(
        f"{stream.name} does not show on {taker.name}: it {why}.",
        "The stream connects, the counter runs, and the screen stays black or stutters.",
        "Send what it decodes: the substream, or H.264 at the show's raster.",
    )


CHECKS = (not_decoded,)
