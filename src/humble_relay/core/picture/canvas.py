"""A picture on a canvas of another shape: what a crop keeps, what a shrunk picture leaves free, what is safe."""

from fractions import Fraction

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.plan.video import VideoFormat


class Rect(Frozen):
    """A rectangle in pixels of the raster it lies on."""

    x: float
    y: float
    width: float
    height: float


class Canvas(Frozen):
    """One picture on one canvas, both ways: cropped, and shrunk whole. `crop` lies on the picture, the rest on the canvas."""

    picture: VideoFormat
    canvas: VideoFormat
    crop: Rect
    kept: Working
    fit: Rect
    share: Working
    action: Rect
    graphics: Rect


def canvas_of(picture: VideoFormat, canvas: VideoFormat, figures: Figures) -> Canvas:
    """How the picture sits on the canvas, centred. For 16:9 on 9:16 both shares are (9/16)² (arithmetic)."""
    shape = Fraction(canvas.width, canvas.height)
    crop_width = min(Fraction(picture.width), picture.height * shape)
    crop_height = crop_width / shape
    scale = min(Fraction(canvas.width, picture.width), Fraction(canvas.height, picture.height))
    fit_width, fit_height = picture.width * scale, picture.height * scale
    return Canvas(
        picture=picture,
        canvas=canvas,
        crop=_centred(picture, crop_width, crop_height),
        kept=_share("Width the crop keeps", crop_width, picture.width, "px"),
        fit=_centred(canvas, fit_width, fit_height),
        share=_share("Height the whole picture takes", fit_height, canvas.height, "px"),
        action=_safe(canvas, figures["action-safe"]),
        graphics=_safe(canvas, figures["graphics-safe"]),
    )


def _centred(on: VideoFormat, width: Fraction, height: Fraction) -> Rect:
    return Rect(
        x=float((on.width - width) / 2), y=float((on.height - height) / 2), width=float(width), height=float(height)
    )  # fmt: skip


def _safe(on: VideoFormat, share: float) -> Rect:
    part = Fraction(share).limit_denominator(1000)
    return _centred(on, on.width * part, on.height * part)


def _share(name: str, part: Fraction, whole: int, unit: str) -> Working:
    percent = round(float(part / whole) * 100, 1)
    steps = (
        Step(name="Part", value=round(float(part), 1), unit=unit, source="arithmetic"),
        Step(name="Whole", value=whole, unit=unit),
        Step(name="Share", value=percent, unit="%", how=f"{float(part):.4g} ÷ {whole}"),
    )
    return Working(name=name, value=percent, unit="%", steps=steps)
