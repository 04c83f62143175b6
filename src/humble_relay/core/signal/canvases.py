"""The streams whose canvas lies the other way from their picture, and what each does with it."""

from collections.abc import Iterator

from humble_relay.core.edits import SetField
from humble_relay.core.findings import Fault, Fix, rule
from humble_relay.core.frozen import Frozen
from humble_relay.core.index import PlanIndex
from humble_relay.core.picture.canvas import Canvas, canvas_of
from humble_relay.core.plan import Layout
from humble_relay.core.signal.follow import flow
from humble_relay.core.signal.senders import turned


class StreamCanvas(Frozen):
    """A stream and its canvas."""

    stream: str
    name: str
    encoder: str
    composes: bool
    """Whether the encoder can compose it; otherwise a second encoder is needed."""
    layout: Layout
    canvas: Canvas


def canvases(plan: PlanIndex) -> tuple[StreamCanvas, ...]:
    """Every stream whose canvas is upright for a flat picture, or the other way round."""
    found = []
    for stream in plan.streams:
        if not turned(plan, stream):
            continue
        encoder = plan.devices[stream.from_device]
        arriving = plan.once(flow).arriving[encoder.id].values()
        picture = encoder.produces or next(s.format for s in arriving if s.format)
        found.append(
            StreamCanvas(
                stream=stream.id,
                name=stream.name,
                encoder=encoder.name,
                composes=bool(encoder.encoding and encoder.encoding.vertical),
                layout=stream.layout,
                canvas=canvas_of(picture, stream.format, plan.figures),
            )
        )
    return tuple(found)


@rule("canvas-undecided", "signal")
def canvas_undecided(plan: PlanIndex) -> Iterator[Fault]:
    """Pictures sent to a canvas of the other shape without saying how they sit in it."""
    for each in canvases(plan):
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
