"""Whether it is known when the show is."""

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, doubtful, holds, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import SHOW
from humble_relay.core.plan import Show


@check(
    "no-start", SHOW, "brief", "Is it known when the show starts, and does it end after that?", "arithmetic"
)
def no_start(_: Case, show: Show) -> Verdict:
    """Whether the show has a start, and an end after it."""
    if show.starts_at is None:
        return holds(
            remark=lambda: Words(
                "The show has no start.",
                "Lead times cannot be counted back, and no measurement is known to be at the right hour.",
                "Put the date and time in the brief.",
            )
        )
    if show.ends_at is not None and show.ends_at <= show.starts_at:
        return doubtful(
            lambda: Words(
                "The show ends before it starts.",
                "The order of the day and the card space are counted wrong.",
                "Correct the end in the brief.",
            ),
            compared=(
                show.starts_at,
                show.ends_at,
            ),
        )
    return HOLDS


DATED: SubjectKind[Show] = SubjectKind(
    "show that has a start",
    lambda case: [(Thing("show", "show"), case.plan.show)] if case.plan.show.starts_at else [],
)


@check("end-not-known", DATED, "brief", "Is it known when the show ends?", "the planner")
def end_not_known(_: Case, show: Show) -> Verdict:
    """Whether the show has an end: the line, the recording and the batteries are judged for as long as it lasts."""
    if show.ends_at is not None:
        return HOLDS
    return wants(Want(Thing("show", "show"), "ends_at", f"When does {show.name} end?"))


CHECKS = (no_start, end_not_known)
