"""The streams whose canvas lies the other way from their picture, and what each does with it."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.picture.canvas import Canvas, canvas_of
from humble_relay.core.plan import Layout, Stream
from humble_relay.core.signal.flow.propagation import flow


class StreamCanvas(Frozen):
    """A stream and its canvas."""

    stream: str
    name: str
    encoder: str
    composes: bool
    """Whether the encoder can compose it; otherwise a second encoder is needed."""
    layout: Layout
    canvas: Canvas


@analysis
def canvases(case: Case) -> tuple[StreamCanvas, ...]:
    """Every stream of a horizontal picture to a vertical canvas, or the reverse."""
    found = []
    for stream in case.streams:
        if stream.protocol == "web" or not turned(case, stream):
            continue  # of a browser link its source is asked about
        encoder = case.devices[stream.from_device]
        arriving = flow(case).arriving[encoder.id].values()
        picture = encoder.produces or next(s.format for s in arriving if s.format)
        found.append(
            StreamCanvas(
                stream=stream.id,
                name=stream.name,
                encoder=encoder.name,
                composes=bool(encoder.encoding and encoder.encoding.vertical),
                layout=stream.layout,
                canvas=canvas_of(picture, stream.format, case.figures),
            )
        )
    return tuple(found)


def turned(case: Case, stream: Stream) -> bool:
    """Whether the stream is vertical and the picture it is made of horizontal, or the reverse."""
    signals = flow(case).arriving[stream.from_device]
    made = case.devices[stream.from_device].produces or next((s.format for s in signals.values()), None)
    return made is not None and (made.height > made.width) != (stream.format.height > stream.format.width)


TURNED: SubjectKind[StreamCanvas] = SubjectKind(
    "stream to a canvas of the other shape",
    lambda case: ((Thing("link", each.stream), each) for each in canvases(case)),
)


@check(
    "canvas-undecided", TURNED, "signal",
    "Is it said how the picture sits in the canvas?", "arithmetic: (9/16)² of the width is kept",
)  # fmt: skip
def canvas_undecided(_: Case, each: StreamCanvas) -> Verdict:
    """Whether a picture sent to a canvas of the other shape is cropped or shrunk knowingly."""
    if each.layout != "full":
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{each.name} does not say how {each.canvas.picture.label} sits in {each.canvas.canvas.label}.",
            f"The platform crops the middle and keeps {each.canvas.kept.value:g} % of the width: the score and half the boats are gone.",
            "Shrink the whole picture into the canvas and use the space above and below, or choose the crop knowingly.",
            each.canvas.kept,
        ),
        compared=(
            each.canvas.picture.label,
            each.canvas.canvas.label,
        ),
    )


BROWSER_LINKS: SubjectKind[Stream] = SubjectKind(
    "browser link",
    lambda case: ((Thing("link", s.id, "turn"), s) for s in case.streams if s.protocol == "web"),
)


@check(
    "source-turned", BROWSER_LINKS, "signal", "Is its browser source turned as its camera is held?", "common practice, no source",
    "plan",
)  # fmt: skip
def source_turned(case: Case, stream: Stream) -> Verdict:
    """Whether a vertical picture comes into a vertical source, and a horizontal one into a horizontal source (width × height)."""
    if not turned(case, stream):
        return HOLDS
    made, source = case.devices[stream.from_device].produces, stream.format

    def say() -> Words:
        sends = f"sends {made.width} × {made.height}" if made else "is held the other way"
        return Words(
            f"{case.devices[stream.from_device].name} {sends}, and the source for {stream.name} is {source.width} × {source.height}.",
            "The picture stands small between two black bars, or is cut to a third of its height.",
            "Set the width and height of the source to what the camera sends, or turn the camera.",
        )

    return doubtful(say, compared=(made.label if made else "", source.label))


CHECKS = (canvas_undecided, source_turned)
