"""Modems put into an encoder from the command bar: what is made of them, and what is asked then."""

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judgement import answers
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.reach.stream_uplinks import uplink_crossed
from humble_relay.core.views.command_bar import read_command
from tests.build import case_of, hd, put, small_show


def test_modems_make_the_lines_their_cards_and_the_bond_and_the_box_goes_out_by_it() -> None:
    field = from_library("encoder-field", "field", "slipway", "Field encoder")
    gateway = from_library("gateway-bonding", "eelgrass", None, "Eelgrass")
    feed = Stream(id="far-feed", name="Far feed", from_device="field", to_device="eelgrass", protocol="srt", format=hd(), video_mbps=6, address="srt://in.eelgrass.example:9000")  # fmt: skip
    plan = small_show(added(field), added(gateway), put("device", "eelgrass", "ingest.host", "in.eelgrass.example"), added(feed))  # fmt: skip
    one = read_command(case_of(plan), "add modem to field")[0]
    assert one.title == "Put 1 modem into Field encoder, and asks for its card"
    alone = case_of(apply(plan, one.edits))
    assert alone.uplinks["field-modem"].parts == () and uplink_crossed(alone, feed) == "field-modem"
    more = read_command(alone, "add 2 modems of fenside and marram to field")[0]
    assert "2 modems" in more.title and "bonded to one line" in more.title
    bonded = case_of(apply(alone.plan, more.edits))
    bond = bonded.uplinks["field-bond"]
    assert (
        bond.parts == ("field-modem", "field-modem-2", "field-modem-3")
        and uplink_crossed(bonded, feed) == "field-bond"
    )
    assert [bonded.uplinks[p].carrier for p in bond.parts] == ["", "Fenside", "Marram"]
    wanted = {
        a.thing.id for a in answers(bonded).every if a.check == "no-measurement" and a.state == "not known"
    }
    assert "field-bond" in wanted  # nothing is taken for known of lines that nobody measured
    again = read_command(bonded, "add a modem to field")[0]
    fourth = case_of(apply(bonded.plan, again.edits))
    assert len(fourth.uplinks["field-bond"].parts) == 4 and len(fourth.plan.routers) == len(
        bonded.plan.routers
    )
    (refused,) = [a for a in read_command(bonded, "add 40 modems to encoder") if a.title.startswith("Encoder")]  # fmt: skip
    assert refused.title == "Encoder takes no modem: it has no mobile data of its own" and not refused.edits
    assert (
        read_command(bonded, "add 40 modems to field")[0].title == "Field encoder takes 1 to 8 modems, not 40"
    )


def test_a_path_by_mobile_data_is_laid_with_all_modems_bonded_where_the_other_end_joins_them_and_by_one_where_not() -> (
    None
):
    field = from_library("encoder-field", "field", "slipway", "Field encoder")
    gateway = from_library("gateway-bonding", "eelgrass", None, "Eelgrass")
    case = case_of(small_show(added(field), added(gateway), put("device", "eelgrass", "ingest.host", "in.eelgrass.example")))  # fmt: skip
    for by, parts in (("Paired", ("field-modem", "field-modem-2")), ("SRT", ())):
        laid = next(
            a for a in read_command(case, "field encoder to eelgrass") if f"{by} stream by mobile" in a.title
        )
        after = case_of(apply(case.plan, laid.edits))
        (stream,) = after.streams_from["field"]
        line = after.uplinks[uplink_crossed(after, stream) or ""]
        assert line.parts == parts and all(after.uplinks[p].mobile for p in parts or (line.id,))
