"""The view of each stage: what its instrument draws, worked out when the stage asks for it."""

from collections.abc import Callable
from typing import Any, Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding, unanswered
from humble_relay.core.patience import Stopped
from humble_relay.core.plan.stages import Stage
from humble_relay.core.views.addresses_view import (
    AddressesView,
    CallsView,
    TypedAddressesView,
    addresses_view,
    calls_view,
    typed_addresses_view,
)
from humble_relay.core.views.bandwidth_view import (
    BandwidthView,
    BitratesView,
    ComparisonsView,
    bandwidth_view,
    bitrates_view,
    comparisons_view,
)
from humble_relay.core.views.brief_view import BriefView, brief_view
from humble_relay.core.views.gear_view import GearView, gear_view
from humble_relay.core.views.giving import Giving, giving
from humble_relay.core.views.signal_view import LinksView, SignalView, links_view, signal_view
from humble_relay.core.views.survey_view import SurveyView, survey_view

Drawn = Literal[
    "brief", "survey", "gear", "signal", "signal_links", "addresses", "addresses_calls", "addresses_typed",
    "addresses_giving", "bandwidth", "bandwidth_bitrates", "bandwidth_comparisons",
]  # fmt: skip
"""What is drawn of the case: each stage's instrument, and what its other pages show, each asked for when it is in view. The
papers are asked for as papers."""


class StageView(Frozen):
    """The view that was asked for; none, and why, where it cannot be worked out."""

    brief: BriefView | None = None
    survey: SurveyView | None = None
    gear: GearView | None = None
    signal: SignalView | None = None
    signal_links: LinksView | None = None
    addresses: AddressesView | None = None
    addresses_calls: CallsView | None = None
    addresses_typed: TypedAddressesView | None = None
    addresses_giving: Giving | None = None
    bandwidth: BandwidthView | None = None
    bandwidth_bitrates: BitratesView | None = None
    bandwidth_comparisons: ComparisonsView | None = None
    unanswered: Finding | None = None


VIEWS: dict[Drawn, Callable[[Case], Any]] = {
    "brief": brief_view,
    "survey": survey_view,
    "gear": gear_view,
    "signal": signal_view,
    "signal_links": links_view,
    "addresses": addresses_view,
    "addresses_calls": calls_view,
    "addresses_typed": typed_addresses_view,
    "addresses_giving": giving,
    "bandwidth": bandwidth_view,
    "bandwidth_bitrates": bitrates_view,
    "bandwidth_comparisons": comparisons_view,
}


def view_of(case: Case, drawn: Drawn) -> StageView:
    """What a stage draws. A view that breaks says so, and takes no answer with it."""
    try:
        return StageView.model_construct(**{drawn: VIEWS[drawn](case)})
    except Stopped:
        raise
    except Exception as error:
        stage: Stage = drawn.partition("_")[0]  # type: ignore[assignment]
        what = f"what the {stage} stage draws"
        return StageView.model_construct(unanswered=unanswered(f"view-{drawn}", stage, what, error))
