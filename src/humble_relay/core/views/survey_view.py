"""What the Survey draws: each line with what was measured on it, and how far that is to be trusted."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.upload.headroom import Upload, uploads
from humble_relay.core.upload.probability import NextMeasurement, next_measurement


class SurveyView(Frozen):
    """Every line, in the plan's order."""

    uploads: tuple[Upload, ...]
    next: dict[str, NextMeasurement]
    """By line, the further measurement that would tell most."""


def survey_view(case: Case) -> SurveyView:
    """What the Survey draws."""
    wanted = {id: next_measurement(case, id) for id in case.uplinks}
    return SurveyView(
        uploads=tuple(uploads(case).values()), next={id: what for id, what in wanted.items() if what}
    )
