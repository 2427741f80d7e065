"""What the kernel lets be written: firmware-attributes (with the next start); cpufreq, powercap, graphics (at once).

Source: the kernel's documentation, sysfs-class-firmware-attributes, sysfs-devices-system-cpu, sysfs-class-powercap.
"""

import errno
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.offers import Kind, Offer, Raw, Up

ATTRIBUTES = "sys/class/firmware-attributes/*/attributes/*"
PENDING = "sys/class/firmware-attributes/*/attributes/pending_reboot"
CLOCKS = "sys/devices/system/cpu/cpu[0-9]*/cpufreq"
ZONES = "sys/class/powercap/*"
CAPS = "sys/class/drm/card[0-9]/device/hwmon/hwmon*/power1_cap"
CLOCK_LIMIT = "highest clock"
"""One attribute for all cores: each core's file says the same."""


@dataclass(frozen=True, slots=True)
class _Place:
    """One attribute: what it offers, how it is read and where it is written."""

    offer: Offer
    files: tuple[Path, ...]
    as_text: Callable[[Raw], str] = str


class KernelDoor:
    """All of it below a root. What may not be written is offered as only told, with the remedy when it is tried."""

    text = "kernel"
    restarts = False

    def __init__(self, root: Path = Path("/")) -> None:
        self._root = root

    def _places(self) -> dict[str, _Place]:
        found = [*self._firmware(), *self._clocks(), *self._zones(), *self._caps()]
        return {place.offer.name: place for place in found}

    def _firmware(self) -> list[_Place]:
        found = []
        for folder in sorted(self._root.glob(ATTRIBUTES)):
            if not (folder / "current_value").is_file():
                continue
            kind = {"integer": Kind.NUMBER, "enumeration": Kind.CHOICE}.get(_read(folder / "type"), Kind.TEXT)
            told = _read(folder / "current_value")
            current: Raw | None = int(told) if kind is Kind.NUMBER and _is_whole(told) else told
            offer = Offer(
                folder.name,
                _read(folder / "display_name") or folder.name,
                kind,
                current,
                _whole(folder / "min_value"),
                _whole(folder / "max_value"),
                _whole(folder / "scalar_increment") or 1,
                tuple(filter(None, _read(folder / "possible_values").split(";"))),
            )
            found.append(_Place(offer, (folder / "current_value",)))
        return found

    def _clocks(self) -> list[_Place]:
        folders = [one for one in sorted(self._root.glob(CLOCKS)) if (one / "scaling_max_freq").is_file()]
        if not folders:
            return []
        first = folders[0]
        low, high = _whole(first / "cpuinfo_min_freq"), _whole(first / "cpuinfo_max_freq")
        now = _whole(first / "scaling_max_freq")
        offer = Offer(CLOCK_LIMIT, "highest clock of all cores, kHz", Kind.NUMBER, now, low, high, at_once=True)
        return [_Place(offer, tuple(one / "scaling_max_freq" for one in folders))]

    def _zones(self) -> list[_Place]:
        found = []
        for folder in sorted(self._root.glob(ZONES)):
            for number in range(3):
                file = folder / f"constraint_{number}_power_limit_uw"
                if file.is_file():
                    zone, which = _read(folder / "name"), _read(folder / f"constraint_{number}_name")
                    name = f"{zone} {which}"
                    most = _whole(folder / f"constraint_{number}_max_power_uw")
                    offer = Offer(name, f"{name} limit, µW", Kind.NUMBER, _whole(file), 0, most or None, at_once=True)
                    found.append(_Place(offer, (file,)))
        return found

    def _caps(self) -> list[_Place]:
        """Power limits of graphics, as their drivers publish them (hwmon, ``power1_cap``)."""
        found = []
        for file in sorted(self._root.glob(CAPS)):
            card = next(part for part in file.relative_to(self._root).parts if part.startswith("card"))
            low, high = _whole(file.with_name("power1_cap_min")), _whole(file.with_name("power1_cap_max"))
            name = f"graphics power limit {card}"
            offer = Offer(name, f"{name}, µW", Kind.NUMBER, _whole(file), low, high, at_once=True)
            found.append(_Place(offer, (file,)))
        return found

    def offers(self) -> tuple[Offer, ...]:
        """All that is there."""
        return tuple(place.offer for place in self._places().values())

    def read(self) -> Mapping[str, Raw]:
        """What stands; of attributes that wait for a start what they wait with is told by :meth:`pending`."""
        return {name: place.offer.current for name, place in self._places().items() if place.offer.current is not None}

    def pending(self) -> Mapping[str, Raw]:
        """Where the kernel says that a start is pending: all attributes of the firmware."""
        waits = any(
            _read(one) == "1" for one in self._root.glob("sys/class/firmware-attributes/*/attributes/pending_reboot")
        )
        return {place.offer.name: place.offer.current or "" for place in self._firmware()} if waits else {}

    def write(self, values: Mapping[str, Raw]) -> None:
        """Set these; where one is not taken those before it are put back.

        Raises:
            Refused: one is not there, may not be written, or is not taken; says which, and what to do.
        """
        places = self._places()
        strange = [name for name in values if name not in places]
        if strange:
            raise Refused(f"The kernel offers no {', '.join(strange)} here.")
        done: list[tuple[Path, str]] = []
        try:
            for name, value in values.items():
                for file in places[name].files:
                    before = _read(file)
                    _write(file, name, places[name].as_text(value))
                    done.append((file, before))
                self._look_again(places[name], value)
        except Refused:
            for file, before in reversed(done):
                _write(file, file.name, before)
            raise

    def _look_again(self, place: _Place, value: Raw) -> None:
        """Limits may be rounded without a word."""
        for file in place.files:
            told = _read(file)
            if told != place.as_text(value) and not place.offer.at_once:
                raise Refused(f"{place.offer.name}: {value} was written, and {told} stands there.")

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


def _write(file: Path, name: str, text: str) -> None:
    try:
        file.write_text(text)
    except OSError as error:
        raise Refused(f"{name} {text}: {WORDS.get(error.errno or 0, error.strerror)}.") from error


def _read(path: Path) -> str:
    try:
        return path.read_text(errors="replace").strip()
    except OSError:
        return ""


def _whole(path: Path) -> int | None:
    text = _read(path)
    return int(text) if _is_whole(text) else None


def _is_whole(text: str) -> bool:
    return text.lstrip("-").isdigit()
