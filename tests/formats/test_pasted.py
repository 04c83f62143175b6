"""Pasted text: a platform's page, what the real `ip` prints and what other systems do, lists out of a spreadsheet."""

import subprocess

from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits.draft import apply
from humble_relay.demo import demo_plan
from humble_relay.formats.pasted.interface_list import _interfaces
from humble_relay.formats.pasted.reading import read_pasted
from tests.build import NOW

DEMO = demo_plan()
CASE = Case(DEMO.plan, DEMO.survey, NOW)
IPCONFIG = """Windows IP Configuration

Ethernet adapter Ethernet 2:

   Connection-specific DNS Suffix  . : show.example
   Physical Address. . . . . . . . . : 02-00-5E-10-00-77
   DHCP Enabled. . . . . . . . . . . : Yes
   IPv4 Address. . . . . . . . . . . : 192.168.20.77(Preferred)
   Subnet Mask . . . . . . . . . . . : 255.255.255.0
   Default Gateway . . . . . . . . . : 192.168.20.254
"""  # from memory
IFCONFIG = """en0: flags=8863<UP,BROADCAST,SMART,RUNNING,SIMPLEX,MULTICAST> mtu 1500
\tether 02:00:5e:10:00:78
\tinet 192.168.20.78 netmask 0xffffff00 broadcast 192.168.20.255
lo0: flags=8049<UP,LOOPBACK,RUNNING,MULTICAST> mtu 16384
\tinet 127.0.0.1 netmask 0xff000000
"""  # from memory


def made(text: str, nth: int = 0) -> Plan:
    return apply(DEMO.plan, read_pasted(CASE, text).alternatives[nth].edits)


def test_a_platforms_page_is_taken_apart_and_its_key_is_in_no_title() -> None:
    page = "Live control room\nServer URL\nrtmps://ingest2.alder.example:443/push\nStream key\nq7wz-hush-hush\nSet up your encoder"
    alder = CASE.devices["alder"].ingest
    read = read_pasted(CASE, page.replace("ingest2.alder.example", alder.host if alder else ""))
    assert [a.title.partition(":")[0] for a in read.alternatives] == ["Program to Alder"]
    assert "hush" not in "".join(a.title for a in read.alternatives) and read.not_understood == (
        "Live control room",
        "Set up your encoder",
    )
    after = apply(DEMO.plan, read.alternatives[0].edits)
    ingest = next(d.ingest for d in after.devices if d.id == "alder")
    assert ingest and (ingest.app, ingest.port) == ("push", 443)
    assert next(s.key for s in after.links if s.id == "alder-feed") == "q7wz-hush-hush"
    # A host that nobody has: each stream to a platform may be meant.
    assert len(read_pasted(CASE, page).alternatives) >= 3


def test_what_a_computer_says_of_its_network_is_read_as_the_real_program_prints_it() -> None:
    real = subprocess.run(["ip", "addr"], capture_output=True, text=True, check=True).stdout
    brief = subprocess.run(["ip", "-brief", "-4", "addr"], capture_output=True, text=True, check=True).stdout
    said = {cell for line in brief.splitlines() for cell in line.split()[2:] if not cell.startswith("127.")}
    assert {f"{i.address}/{i.bits}" for i in _interfaces(real)} == said
    for text, address, mac in (
        (IPCONFIG, "192.168.20.77", "02:00:5e:10:00:77"),
        (IFCONFIG, "192.168.20.78", "02:00:5e:10:00:78"),
    ):
        read = read_pasted(CASE, text)
        assert f"{address}/24, {mac}" in read.alternatives[0].title
        after = apply(DEMO.plan, read.alternatives[0].edits)
        found = [p.interface for d in after.devices for p in d.ports if p.address == address]
        assert [i.hardware_address for i in found if i] == [mac]
    assert any(
        a.title == "Show network: gateway 192.168.20.254" for a in read_pasted(CASE, IPCONFIG).alternatives
    )
    known = IFCONFIG.replace("192.168.20.78", "192.168.20.30")
    assert [a.title.split(",")[0] for a in read_pasted(CASE, known).alternatives] == ["Boathouse encoder"]


def test_a_list_of_devices_is_read_with_headings_or_without_and_what_is_not_understood_is_said() -> None:
    headed = "Name\tModel\tLocation\tIP\nDome 1\tTeasel Pole IP camera\tNet Loft\t192.168.20.91\nBig wall\tLarge screen\tBoathouse\t\nKettle\tKettle\tBoathouse\t"
    after = made(headed)
    new = {d.name: d for d in after.devices if d.id not in CASE.devices}
    assert set(new) == {"Dome 1", "Big wall"} and new["Dome 1"].place == "net-loft"
    assert any(p.address == "192.168.20.91" for p in new["Dome 1"].ports)
    assert read_pasted(CASE, headed).not_understood == ("Kettle, Kettle, Boathouse, ",)
    bare = "Field camera;Slipway\nField camera;Boathouse\nMonitor;Net Loft"
    assert [d.place for d in made(bare).devices if d.id not in CASE.devices] == [
        "slipway",
        "boathouse",
        "net-loft",
    ]
    for wrong in (
        IPCONFIG.replace("192.168.20.77", "999.168.20.77"),
        IFCONFIG.replace("0xffffff00", "300.0.0.0"),
        f"a\t{'b' * 150_000}",
        "rtmp://[::1/live",
    ):
        assert not any(
            a.edits for a in read_pasted(CASE, wrong).alternatives if "77" in a.title or "rtmp" in a.title
        )
    nothing = read_pasted(CASE, "see you at four\nbring cake")
    assert not nothing.alternatives and nothing.not_understood == ("see you at four", "bring cake")
