"""How a rig that stands elsewhere is reached, as lines of its form: its wire, its power."""

from dataclasses import replace

from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.doors.opening import door_text
from tenaz.intake.form.entry import Entry
from tenaz.wire.power import power_of
from tenaz.wire.ways import way_of


def wired(rig: Rig, text: str) -> Rig:
    """The rig with this way to it; it has the bench ``wire`` from then on, or, without a way, no longer.

    Raises:
        Refused: text that is no way.
    """
    if not text:
        left = tuple(one for one in rig.benches if one is not BenchKind.WIRE)
        return replace(rig, wire="", benches=left or (BenchKind.HAND,))
    benches = rig.benches if BenchKind.WIRE in rig.benches else (BenchKind.WIRE, *rig.benches)
    return replace(rig, wire=way_of(text).text, benches=benches)


def _powered(rig: Rig, text: str) -> Rig:
    power_of(text)
    return replace(rig, power=text.strip())


def _doored(rig: Rig, text: str) -> Rig:
    """The rig with this door; a map that was confirmed for another is none for it."""
    told = door_text(text).text if text else ""
    return rig if told == rig.door else replace(rig, door=told, door_map=())


OF_THE_WAY = (
    Entry(
        "wire",
        "across a wire",
        "ssh and its host, like ssh bench-3; or serial /dev/ttyUSB0",
        "how it is reached",
        lambda rig: rig.wire,
        wired,
    ),
    Entry(
        "power",
        "its power",
        "wake and its MAC, or http://switch.lan/3?turn={state}; used where it stays silent",
        "how it is reached",
        lambda rig: rig.power,
        _powered,
    ),
    Entry(
        "door",
        "its own door",
        "redfish https://HOST login=FILE, or kernel; tenaz set probe shows what it offers",
        "how it is reached",
        lambda rig: rig.door,
        _doored,
    ),
)
"""Its lines, in the order in which they are asked."""
