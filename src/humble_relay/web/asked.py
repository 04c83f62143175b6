"""Things asked for in a few strokes: each is answered with the edits that would make it, and none is made."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.core.allocation.outcome import Allocation, allocation
from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.frozen import Name, Slug, Text
from humble_relay.core.judging.case import Case
from humble_relay.core.places.new_site import edits_of_new_site
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.networks import LineKind
from humble_relay.core.plan.survey import Survey
from humble_relay.core.show.new_aims import WantedPicture, edits_of_aim
from humble_relay.core.views.read_address import ReadAddress, read_address
from humble_relay.formats.join_file import UnreadableJoin, box_for, edits_of_join, read_join
from humble_relay.formats.pasted.reading import MOST_TEXT, PasteReading, read_pasted
from humble_relay.web.cases import case_of, moment
from humble_relay.web.heavy import LARGE_BODY
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import Store, opened
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed

router = APIRouter(prefix="/api/plans/{id}/asked", tags=["asked"], route_class=OffLoop)


MOST_TO_ALLOCATE_HERE = 600
"""Uplinks times links of a plan whose optimum is sought on a thread; that of a larger one would hold everybody up."""


class WantedSite(BaseModel):
    """A site by its name, and the kind of line it has, where it has one."""

    model_config = ConfigDict(extra="forbid")
    name: Name
    line: LineKind | None = None


@router.post("/site", responses=documented(404, 422))
def ask_for_site(id: Slug, wanted: WantedSite, store: Store, pulse: Pulsed) -> list[Edit]:
    """The edits that add a site with a place in it and, where it has one, its line with a network."""
    return list(edits_of_new_site(opened(store, id, pulse).plan, wanted.name, wanted.line))


@router.post("/aim", responses=documented(404, 422))
def ask_for_aim(id: Slug, wanted: WantedPicture, store: Store, pulse: Pulsed) -> list[Edit]:
    """The edits that ask for a picture at an end, the end itself among them where it is new."""
    try:
        return list(edits_of_aim(case_of(opened(store, id, pulse), pulse), wanted))
    except KeyError:
        raise HTTPException(404, f"The plan has no device called {wanted.end}.") from None


class PastedAddress(BaseModel):
    """An address as it was pasted."""

    model_config = ConfigDict(extra="forbid")
    text: Text


@router.post("/address", responses=documented(404, 422))
def read_pasted_address(id: Slug, pasted: PastedAddress, store: Store, pulse: Pulsed) -> ReadAddress:
    """What the address says, and whose it is; nothing of it is kept."""
    return read_address(case_of(opened(store, id, pulse), pulse), pasted.text)


class PastedText(BaseModel):
    """A text as it was pasted."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(max_length=MOST_TEXT)]


@router.post("/pasted", responses=documented(404, 422))
def read_pasted_text(id: Slug, pasted: PastedText, store: Store, pulse: Pulsed) -> PasteReading:
    """What a platform's page, what a computer says of its network, or a list of devices may mean for the plan; nothing of it is kept."""
    return read_pasted(case_of(opened(store, id, pulse), pulse), pasted.text)


@router.post("/allocation", responses=documented(404, 422))
def ask_for_allocation(id: Slug, store: Store, pulse: Pulsed) -> Allocation:
    """The best pictures, bitrates, lines and relays for what goes out, the runner-up, and the edits that make either."""
    kept = opened(store, id, pulse)
    size = LARGE_BODY if len(kept.plan.uplinks) * len(kept.plan.links) > MOST_TO_ALLOCATE_HERE else 0
    return pulse.large(size, allocation_of, kept.plan, kept.survey, moment(None), kept.stock)


def allocation_of(plan: Plan, survey: Survey, as_of: datetime, stock: Stock) -> Allocation:
    """The allocation of a plan, for a caller that has none of its case at hand."""
    return allocation(Case(plan, survey, as_of, stock))


class JoinText(BaseModel):
    """A settings file as it was read from the disk, and the box of this plan that it is for; None: whichever fits."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(max_length=20_000)]
    device: Slug | None = None


class Joined(BaseModel):
    """The box that a settings file is for, and the edits that put its stream into the plan."""

    device: str
    edits: list[Edit]


@router.post("/join", responses=documented(404, 422))
def read_settings_file(id: Slug, wanted: JoinText, store: Store, pulse: Pulsed) -> Joined:
    """The edits that put the stream of a settings file into the plan, at one of its boxes."""
    case = case_of(opened(store, id, pulse), pulse)
    try:
        found = read_join(wanted.text)
    except UnreadableJoin as error:
        raise HTTPException(422, str(error)) from None
    device = case.devices.get(wanted.device) if wanted.device else box_for(case, found)
    if device is None:
        raise HTTPException(
            404,
            f"The plan has no device called {wanted.device}."
            if wanted.device
            else "The plan has no box yet that sends or takes streams: add one in Gear.",
        )
    return Joined(device=device.id, edits=list(edits_of_join(case, found, device)))
