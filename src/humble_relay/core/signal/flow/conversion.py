"""What an input takes as it is, and what a box turns a picture into."""

from humble_relay.core.plan import Device, Port
from humble_relay.core.plan.video import VideoFormat


def refusal(device: Device, port: Port, fmt: VideoFormat) -> str | None:
    """Why the input does not take the format, in words, or None when it does.

    A switcher input that does not scale takes the system format and no other: 59.94 is not 60 (SMPTE ST 274).
    """
    if port.accepts and (reason := port.accepts.refusal(fmt)):
        return reason
    if device.kind == "switcher" and device.produces and not port.scales and fmt != device.produces:
        return f"does not scale and follows the system format, {device.produces.label}"
    return None


def conversion(device: Device, port: Port | None, fmt: VideoFormat | None) -> str:
    """What the box turns the format into, in words; empty when it passes on as it is."""
    to = device.produces
    if fmt is None or to is None or fmt == to or device.kind in ("camera", "phone"):
        return ""
    if port is not None and not port.scales:
        return ""
    words = []
    if (fmt.width, fmt.height) != (to.width, to.height):
        words.append("scaled")
    if fmt.scan != to.scan:
        words.append("deinterlaced" if to.scan == "p" else "interlaced")
    if fmt.rate != to.rate:
        words.append(f"{fmt.rate} made {to.rate} frames/s")
    return f"{', '.join(words)}: {fmt.label} becomes {to.label}"
