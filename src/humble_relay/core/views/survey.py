"""What the Survey draws: each line with what was measured on it, and how far that is to be trusted."""

from humble_relay.core.capacity.upload import Upload, uploads
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case


class SurveyView(Frozen):
    """Every line, in the plan's order."""

    uploads: tuple[Upload, ...]


def survey_view(case: Case) -> SurveyView:
    """What the Survey draws."""
    return SurveyView(uploads=tuple(case.once(uploads).values()))
