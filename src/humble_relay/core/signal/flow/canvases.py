"""The streams whose canvas lies the other way from their picture, and what each does with it."""

from collections.abc import Iterator

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.picture.canvas import Canvas, canvas_of
from humble_relay.core.plan import Layout, Stream
from humble_relay.core.plan.edits import SetField
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


def canvases(case: Case) -> tuple[StreamCanvas, ...]:
    """Every stream whose canvas is upright for a flat picture, or the other way round."""
    found = []
    for stream in case.streams:
        if not turned(case, stream):
            continue
        encoder = case.devices[stream.from_device]
        arriving = case.once(flow).arriving[encoder.id].values()
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
    """Whether the stream is upright and the picture it is made of lies flat, or the other way round."""
    signals = case.once(flow).arriving[stream.from_device]
    made = case.devices[stream.from_device].produces or next((s.format for s in signals.values()), None)
    return made is not None and (made.height > made.width) != (stream.format.height > stream.format.width)


@rule("canvas-undecided", "signal")
def canvas_undecided(case: Case) -> Iterator[Fault]:
    """Pictures sent to a canvas of the other shape without saying how they sit in it."""
    for each in canvases(case):
        if each.layout != "full":
            continue
        edit = {"noun": "link", "id": each.stream, "field": "layout"}
        yield Fault(
            severity="risks",
            noun="link",
            subject=each.stream,
            wrong=f"{each.name} does not say how {each.canvas.picture.label} sits in {each.canvas.canvas.label}.",
            means=f"The platform crops the middle and keeps {each.canvas.kept.value:g} % of the width: the score and half the boats are gone.",
            do="Shrink the whole picture into the canvas and use the space above and below, or choose the crop knowingly.",
            working=each.canvas.kept,
            fixes=(
                Fix(title="Shrink it whole into the canvas", edits=(SetField.model_validate({**edit, "value": "fit"}),)),
                Fix(title="Crop the middle", edits=(SetField.model_validate({**edit, "value": "crop"}),)),
            ),
        )  # fmt: skip
