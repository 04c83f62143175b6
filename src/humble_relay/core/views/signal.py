"""What the Signal stage shows beside its map: what each cable carries and how far, the sound at each end, canvases."""

from humble_relay.core.catalogue.cables import ONE_WAY
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Working
from humble_relay.core.signal.cabling.runs import Run, runs
from humble_relay.core.signal.flow.canvases import StreamCanvas, canvases
from humble_relay.core.signal.flow.sound import SoundAtEnd, sounds


class CableView(Frozen):
    """A cable: what it carries and how far it would."""

    cable: str
    name: str
    format: str | None
    rate: Working | None
    reach: Working | None
    """None where nobody said how far an active or optical lead is promised to carry."""


class SignalView(Frozen):
    """What stands beside the map, which is asked for by itself."""

    cables: tuple[CableView, ...]
    sounds: tuple[SoundAtEnd, ...]
    canvases: tuple[StreamCanvas, ...]


def signal_view(case: Case) -> SignalView:
    """What the Signal stage shows beside the map."""
    return SignalView(
        cables=tuple(_cable(case, run) for run in case.once(runs)),
        sounds=sounds(case),
        canvases=case.once(canvases),
    )


def _cable(case: Case, run: Run) -> CableView:
    return CableView(
        cable=run.cable.id,
        name=case.link_name(run.cable.id),
        format=run.format.label if run.format else None,
        rate=run.rate,
        reach=run.reach if run.cable.rated_m or run.cable.cable not in ONE_WAY else None,
    )
