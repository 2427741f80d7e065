"""What the kernel lets be written: firmware-attributes (with the next start); cpufreq, powercap, graphics (at once).

Source: the kernel's documentation, sysfs-class-firmware-attributes, sysfs-devices-system-cpu, sysfs-class-powercap.
"""

import errno
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.offers import Kind, Offer, Raw, Up
from tenaz.probe.tree import Tree

ATTRIBUTES = "sys/class/firmware-attributes/*/attributes/*"
PENDING = "sys/class/firmware-attributes/*/attributes/pending_reboot"
CLOCKS = "sys/devices/system/cpu/cpu[0-9]*/cpufreq"
ZONES = "sys/class/powercap/*"
CAPS = "sys/class/drm/card[0-9]/device/hwmon/hwmon*/power1_cap"
CLOCK_LIMIT = "highest clock"
"""One attribute for all cores: each core's file says the same."""


@dataclass(frozen=True, slots=True)
class _Place:
    """One attribute: what it offers, and where it is read and written, below the root."""

    offer: Offer
    files: tuple[str, ...]


class KernelDoor:
    """All of it below a root. What may not be written is offered as only told, with the remedy when it is tried."""

    text = "kernel"
    restarts = False

    def __init__(self, root: Path = Path("/")) -> None:
        self._root = root

    def _places(self) -> dict[str, _Place]:
        tree = Tree(self._root)
        found = [*_firmware(tree), *_clocks(tree), *_zones(tree), *_caps(tree)]
        return {place.offer.name: place for place in found}

    def offers(self) -> tuple[Offer, ...]:
        """All that is there."""
        return tuple(place.offer for place in self._places().values())

    def read(self) -> Mapping[str, Raw]:
        """What stands; of attributes that wait for a start what they wait with is told by :meth:`pending`."""
        return {name: place.offer.current for name, place in self._places().items() if place.offer.current is not None}

    def pending(self) -> Mapping[str, Raw]:
        """Where the kernel says that a start is pending: all attributes of the firmware."""
        tree = Tree(self._root)
        waits = any(tree.text(one) == "1" for one in tree.folders(PENDING))
        return {place.offer.name: place.offer.current or "" for place in _firmware(tree)} if waits else {}

    def write(self, values: Mapping[str, Raw]) -> None:
        """Set these; where one is not taken those before it are put back.

        Raises:
            Refused: one is not there, may not be written, or is not taken; says which, and what to do.
        """
        places = self._places()
        strange = [name for name in values if name not in places]
        if strange:
            raise Refused(f"The kernel offers no {', '.join(strange)} here.")
        done: list[tuple[str, str]] = []
        try:
            for name, value in values.items():
                for file in places[name].files:
                    before = self._read(file)
                    self._write(file, name, str(value))
                    done.append((file, before))
                self._look_again(places[name], value)
        except Refused:
            for file, before in reversed(done):
                self._write(file, file.rsplit("/", 1)[1], before)
            raise

    def _look_again(self, place: _Place, value: Raw) -> None:
        """Limits may be rounded without a word."""
        for file in place.files:
            told = self._read(file)
            if told != str(value) and not place.offer.at_once:
                raise Refused(f"{place.offer.name}: {value} was written, and {told} stands there.")

    def _read(self, file: str) -> str:
        return Tree(self._root).text(file) or ""

    def _write(self, file: str, name: str, text: str) -> None:
        try:
            (self._root / file).write_text(text)
        except OSError as error:
            raise Refused(f"{name} {text}: {WORDS.get(error.errno or 0, error.strerror)}.") from error

    def restart(self) -> None:
        """It has no way to.

        Raises:
            Refused: always.
        """
        raise Refused("The kernel's door starts no machine anew: restart it by hand.")

    def up(self) -> Up:
        """What runs it is up."""
        return Up.RUNNING

    def close(self) -> None:
        """There is nothing to let go of."""


WORDS = {
    errno.EINVAL: "it is not among the values that the firmware takes",
    errno.EACCES: "it may not be written: an administrator's password is set in the firmware, or this is not root",
    errno.EPERM: "it may not be written: an administrator's password is set in the firmware, or this is not root",
    errno.EROFS: "it may not be written here",
    errno.EIO: "the firmware did not take it",
    errno.EOPNOTSUPP: "the firmware does not take it now",
}


def _firmware(tree: Tree) -> list[_Place]:
    found = []
    for folder in tree.folders(ATTRIBUTES):
        if not tree.exists(f"{folder}/current_value"):
            # It is no attribute, like the mark of a pending start.
            continue
        told = tree.text(f"{folder}/current_value") or ""
        name = folder.rsplit("/", 1)[1]
        kind = {"integer": Kind.NUMBER, "enumeration": Kind.CHOICE}.get(tree.text(f"{folder}/type") or "", Kind.TEXT)
        number = tree.whole(f"{folder}/current_value") if kind is Kind.NUMBER else None
        offer = Offer(
            name,
            tree.text(f"{folder}/display_name") or name,
            kind,
            told if number is None else number,
            tree.whole(f"{folder}/min_value"),
            tree.whole(f"{folder}/max_value"),
            tree.whole(f"{folder}/scalar_increment") or 1,
            tuple(filter(None, (tree.text(f"{folder}/possible_values") or "").split(";"))),
        )
        found.append(_Place(offer, (f"{folder}/current_value",)))
    return found


def _clocks(tree: Tree) -> list[_Place]:
    folders = [one for one in tree.folders(CLOCKS) if tree.exists(f"{one}/scaling_max_freq")]
    if not folders:
        return []
    first = folders[0]
    low, high = tree.whole(f"{first}/cpuinfo_min_freq"), tree.whole(f"{first}/cpuinfo_max_freq")
    now = tree.whole(f"{first}/scaling_max_freq")
    offer = Offer(CLOCK_LIMIT, "highest clock of all cores, kHz", Kind.NUMBER, now, low, high, at_once=True)
    return [_Place(offer, tuple(f"{one}/scaling_max_freq" for one in folders))]


def _zones(tree: Tree) -> list[_Place]:
    found = []
    for folder in tree.folders(ZONES):
        for number in range(3):
            file = f"{folder}/constraint_{number}_power_limit_uw"
            if tree.exists(file):
                zone, which = tree.text(f"{folder}/name") or "", tree.text(f"{folder}/constraint_{number}_name") or ""
                name = f"{zone} {which}"
                most = tree.whole(f"{folder}/constraint_{number}_max_power_uw")
                now = tree.whole(file)
                offer = Offer(name, f"{name} limit, µW", Kind.NUMBER, now, 0, most or None, at_once=True)
                found.append(_Place(offer, (file,)))
    return found


def _caps(tree: Tree) -> list[_Place]:
    """Power limits of graphics, as their drivers publish them (hwmon, ``power1_cap``)."""
    found = []
    for file in tree.folders(CAPS):
        card = next(part for part in file.split("/") if part.startswith("card"))
        low, high = tree.whole(f"{file}_min"), tree.whole(f"{file}_max")
        name = f"graphics power limit {card}"
        offer = Offer(name, f"{name}, µW", Kind.NUMBER, tree.whole(file), low, high, at_once=True)
        found.append(_Place(offer, (file,)))
    return found
