"""Which attribute of a door is which knob of a rig, and how values go over."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import AUTO, Auto, Setpoint, Value
from tenaz.core.rigs.offers import Kind, Offer, Raw


def without_login(door: str) -> str:
    """A door as it is typed, without where its login lies: that is nobody's business on a page."""
    return door.partition(" login=")[0]


@dataclass(frozen=True, slots=True)
class Mapped:
    """A knob and its attribute: a number there is ``scale`` of ours, and ``offset`` more; or words there stand for our
    numbers (``words``). ``auto`` is its word for what is left to the firmware (empty: it has none).
    """

    knob: str
    attribute: str
    scale: float = 1.0
    offset: float = 0.0
    words: tuple[tuple[int, str], ...] = ()
    auto: str = ""

    def there(self, value: Value) -> Raw:
        """A value of ours as the door has it.

        Raises:
            Refused: it has none for it.
        """
        if isinstance(value, Auto):
            if value is not AUTO or not self.auto:
                raise Refused(f"{self.knob}: {self.attribute} has no word for {value}.")
            return self.auto
        if self.words:
            word = dict(self.words).get(value)
            if word is None:
                raise Refused(f"{self.knob}: {self.attribute} has no word for {value}.")
            return word
        raw = value * self.scale + self.offset
        if abs(raw - round(raw)) > 1e-6:
            raise Refused(f"{self.knob}: {value} is no whole number at {self.attribute}.")
        return round(raw)

    def here(self, raw: Raw) -> Value | None:
        """A value of the door as ours; None: it means none of ours."""
        if self.auto and str(raw) == self.auto:
            return AUTO
        if self.words:
            return next((value for value, word in self.words if word == str(raw)), None)
        try:
            value = (float(raw) - self.offset) / self.scale
        except ValueError:
            return None
        return round(value) if abs(value - round(value)) < 1e-3 else None


def values_there(mapped: Iterable[Mapped], setpoint: Setpoint, knobs: Iterable[str]) -> dict[str, Raw]:
    """What is written for these knobs.

    Raises:
        Refused: one has no attribute, or its value none there.
    """
    by_knob = {one.knob: one for one in mapped}
    found = {}
    for knob in knobs:
        if knob not in by_knob:
            raise Refused(f"{knob} is behind no door: it takes hands.")
        found[by_knob[knob].attribute] = by_knob[knob].there(setpoint[knob])
    return found


def values_here(mapped: Iterable[Mapped], read: Mapping[str, Raw]) -> dict[str, Value]:
    """What a door tells, by knob."""
    found = {}
    for one in mapped:
        value = one.here(read[one.attribute]) if one.attribute in read else None
        if value is not None:
            found[one.knob] = value
    return found


def check_map(mapped: Iterable[Mapped], offers: Iterable[Offer]) -> tuple[str, ...]:
    """What of a map does not fit a door, in words; none: all of it does."""
    by_name = {offer.name: offer for offer in offers}
    wrong = []
    for one in mapped:
        offer = by_name.get(one.attribute)
        if offer is None:
            wrong.append(f"{one.knob}: the door offers no {one.attribute}")
        elif offer.read_only:
            wrong.append(f"{one.knob}: {one.attribute} is only told")
        elif offer.kind is Kind.CHOICE and one.words:
            strange = [word for _, word in one.words if word not in offer.choices]
            if strange:
                wrong.append(f"{one.knob}: {one.attribute} knows no {', '.join(strange[:3])}")
    return tuple(wrong)
