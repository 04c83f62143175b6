"""The brief's picture format given to all gear that makes another."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device
from humble_relay.core.plan.edits import Edit, SetField
from humble_relay.core.plan.video import VideoFormat


class OtherFormats(Frozen):
    """Devices that make another picture than the brief asks for, in words, and the edits that set them all to it."""

    asked: str
    devices: tuple[str, ...]
    edits: tuple[Edit, ...]


def other_formats(case: Case, asked: VideoFormat | None = None) -> OtherFormats | None:
    """The landscape pictures that cameras and switchers make unlike the format of the show, or the one `asked`; None where all
    make it, or none is asked for. A vertical picture is meant so."""
    wanted = asked or case.plan.show.format
    unlike = [d for d in case.devices.values() if wanted and _makes_another(d, wanted)]
    if wanted is None or not unlike:
        return None
    value = wanted.model_dump(mode="json")
    return OtherFormats(
        asked=wanted.label,
        devices=tuple(f"{d.name} {d.produces.label}" for d in unlike if d.produces),
        edits=tuple(SetField(noun="device", id=d.id, field="produces", value=value) for d in unlike),
    )


def _makes_another(device: Device, wanted: VideoFormat) -> bool:
    made = device.produces
    return made is not None and made != wanted and made.width >= made.height
