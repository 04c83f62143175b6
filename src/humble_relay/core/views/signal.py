"""What the Signal stage draws: the map, what each cable carries and how far, the sound at each end, the canvases."""

from humble_relay.core.catalogue.cables import ONE_WAY
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.answer import WEAKEST, State
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Working
from humble_relay.core.signal.cabling.runs import Run, runs
from humble_relay.core.signal.diagram.content import signal_map
from humble_relay.core.signal.diagram.model import SignalMap
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
    """The map and what stands beside it. `states` are those of the boxes and links that do not hold, by id."""

    map: SignalMap
    states: dict[str, State]
    cables: tuple[CableView, ...]
    sounds: tuple[SoundAtEnd, ...]
    canvases: tuple[StreamCanvas, ...]


def signal_view(case: Case) -> SignalView:
    """What the Signal stage draws."""
    return SignalView(
        map=signal_map(case),
        states=_states(case),
        cables=tuple(_cable(case, run) for run in case.once(runs)),
        sounds=sounds(case),
        canvases=case.once(canvases),
    )


def _states(case: Case) -> dict[str, State]:
    """The weakest answer about each box and link, where it is not that it holds; a doubt that was accepted holds."""
    accepted = {f.id for f in findings(case) if f.accepted}
    found: dict[str, State] = {}
    for (noun, id), about in answers(case).by_thing.items():
        if noun in ("device", "link"):
            states = [a.state for a in about if a.id not in accepted and not a.waits]
            weakest: State = min(states, key=WEAKEST.index, default="holds")
            if weakest != "holds":
                found[id] = weakest
    return found


def _cable(case: Case, run: Run) -> CableView:
    return CableView(
        cable=run.cable.id,
        name=case.link_name(run.cable.id),
        format=run.format.label if run.format else None,
        rate=run.rate,
        reach=run.reach if run.cable.rated_m or run.cable.cable not in ONE_WAY else None,
    )
