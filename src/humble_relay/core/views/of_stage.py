"""The view of each stage: what its instrument draws, worked out when the stage asks for it."""

from collections.abc import Callable
from typing import Any, Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding, unanswered
from humble_relay.core.patience import Stopped
from humble_relay.core.views.addresses_view import AddressesView, addresses_view
from humble_relay.core.views.bandwidth_view import BandwidthView, bandwidth_view
from humble_relay.core.views.brief_view import BriefView, brief_view
from humble_relay.core.views.gear_view import GearView, gear_view
from humble_relay.core.views.signal_view import SignalView, signal_view
from humble_relay.core.views.survey_view import SurveyView, survey_view

Drawn = Literal["brief", "survey", "gear", "signal", "addresses", "bandwidth"]
"""The stages that draw something of the case; the papers are asked for as papers."""


class StageView(Frozen):
    """The view of the stage that was asked for; none, and why, where it cannot be worked out."""

    brief: BriefView | None = None
    survey: SurveyView | None = None
    gear: GearView | None = None
    signal: SignalView | None = None
    addresses: AddressesView | None = None
    bandwidth: BandwidthView | None = None
    unanswered: Finding | None = None


VIEWS: dict[Drawn, Callable[[Case], Any]] = {
    "brief": brief_view,
    "survey": survey_view,
    "gear": gear_view,
    "signal": signal_view,
    "addresses": addresses_view,
    "bandwidth": bandwidth_view,
}


def view_of(case: Case, stage: Drawn) -> StageView:
    """What the stage draws. A view that breaks says so, and takes no answer with it."""
    try:
        return StageView.model_construct(**{stage: VIEWS[stage](case)})
    except Stopped:
        raise
    except Exception as error:
        what = f"what the {stage} stage draws"
        return StageView.model_construct(unanswered=unanswered(f"view-{stage}", stage, what, error))
