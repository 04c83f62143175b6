"""The signal map as it is looked at: how near, which places as one box, which way in full, and what does not hold."""

from typing import Annotated, Literal

from pydantic import Field

from humble_relay.core.frozen import Frozen, Slug
from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.answer import State, weakest
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.signal.diagram.content import fitting, signal_map
from humble_relay.core.signal.diagram.model import Detail, SignalMap


class MapAsked(Frozen):
    """How the map is looked at. `fit` is the nearest detail that shows all of it in `width` by `height` px."""

    detail: Detail | Literal["fit"] = "full"
    width: Annotated[float, Field(gt=0, le=20_000)] = 1060
    height: Annotated[float, Field(gt=0, le=20_000)] = 600
    network: Annotated[bool, Field(description="Whether network cables are drawn.")] = False
    turned: Annotated[
        tuple[Slug, ...],
        Field(max_length=200, description="Places drawn the other way: as one box, or opened."),
    ] = ()
    picked: Annotated[Slug | None, Field(description="The device or link that is looked at.")] = None


def map_view(case: Case, asked: MapAsked) -> SignalMap:
    """The map as it was asked for, with the weakest answer about each box and link."""
    detail, marks = asked.detail, _marks(case)
    if detail == "fit":
        detail = fitting(case, asked.width, asked.height, asked.network, marks)
    return signal_map(case, detail, asked.network, asked.turned, asked.picked, marks)


@analysis
def _marks(case: Case) -> dict[str, State]:
    """The weakest answer about each box and link, where it is not that it holds; a doubt that was accepted holds."""
    accepted = {f.id for f in findings(case) if f.accepted}
    found: dict[str, State] = {}
    for (noun, id), about in answers(case).by_thing.items():
        if noun in ("device", "link"):
            mark = weakest(a.state for a in about if a.id not in accepted and not a.waits)
            if mark:
                found[id] = mark
    return found
