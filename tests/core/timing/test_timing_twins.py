"""Twins of timing: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.plan.edits import (
    SetFigure,
)
from tests.build import (
    edit_of,
    put,
    put_port,
)
from tests.core.twins import Twin, hold, named

TWINS = [
    Twin("networked", [SetFigure(figure="paired-lan-delay", value=21)], "sources-apart:switcher:together risks", "21 ms later than Camera; 20 ms do not show", ""),
    # Conversation: 150 ms one way is good, 400 the limit (ITU-T G.114). The decoder's screen is 20 + 150 + 200 + paired ms late.
    Twin("paired", [SetFigure(figure="paired-lan-delay", value=10), edit_of({"kind": "add-aim", "item": {"id": "talk", "end": "screen", "picture": "source", "liveness": "talked-back"}})],
         "later-than-asked:talk:delay risks", "370 ms later; 150 ms was asked for"),
    # What a maker's own link adds nobody says for sure: the boxes alone must be too late.
    Twin("paired", [SetFigure(figure="paired-lan-delay", value=41), edit_of({"kind": "add-aim", "item": {"id": "talk", "end": "screen", "picture": "source", "liveness": "talked-back"}})],
         "later-than-asked:talk:delay risks", "401 ms later"),
    Twin("paired", [put("device", "decoder", "delay_ms", 241), edit_of({"kind": "add-aim", "item": {"id": "talk", "end": "screen", "picture": "source", "liveness": "talked-back"}})],
         "later-than-asked:talk:delay stops", "150 ms was asked for"),
    # The latency that is set is what a receiver holds back, all of it (draft-sharabayko-srt §4.5): 3 s are no conversation.
    Twin("far", [put("link", "feed-2", "latency_ms", 3000), edit_of({"kind": "add-aim", "item": {"id": "talk", "end": "decoder", "picture": "source", "liveness": "talked-back"}})],
         "later-than-asked:talk:delay stops", "150 ms was asked for"),
    # Sound is noticed 45 ms before its picture, and 125 ms after it (ITU-R BT.1359-1).
    Twin("desk", [put("device", "camera", "delay_ms", 45.2)], "lip-sync:switcher:sound risks", "45.2 ms before the picture of Camera", "Hold the sound back by 45.2 ms"),
    Twin("desk", [put_port("switcher/sound", "sound_delay_ms", 146)], "lip-sync:switcher:sound risks", "126 ms after the picture of Camera", "Hold the sound back by 20 ms"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
