"""Which attribute of a door may be which knob: proposed by name, kind, range and value; as TOML to be confirmed."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

import tomlkit
from pydantic import BaseModel, ConfigDict, Field

from tenaz.catalogues.outside import read_text
from tenaz.catalogues.reading import parse_toml
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import Knob
from tenaz.core.rigs.door_map import Mapped
from tenaz.core.rigs.offers import Kind, Offer
from tenaz.core.rigs.rig import Rig
from tenaz.core.words.finding import find
from tenaz.core.words.knobs import KNOBS

SCALES = (1.0, 1000.0, 0.001, 1e6, 0.5, 2.0, 10.0, 0.1)
"""Units of doors beside ours: millivolts, microvolts, volts; watts, microwatts; clocks, transfers."""

AUTO_WORDS = ("auto", "automatic", "default")
NUMBER = re.compile(r"^\s*(-?\d+(?:\.\d+)?)\s*[a-zA-Z/%]*\s*$")


@dataclass(frozen=True, slots=True)
class Proposal:
    """One knob, its likeliest attribute, and whether that is sure; ``why`` says what speaks for it, or against."""

    mapped: Mapped
    sure: bool
    why: str


def propose(rig: Rig, offers: Sequence[Offer]) -> tuple[Proposal, ...]:
    """For each knob of a rig that some attribute may be; one attribute is at most one knob."""
    knobs = {knob.name: knob for knob in rig.knobs}
    found: dict[str, list[tuple[float, Offer]]] = {}
    for offer in offers:
        if offer.read_only or offer.kind is Kind.TEXT:
            continue
        for meant in find(_words(offer.label), KNOBS) or find(_words(offer.name), KNOBS):
            if meant.word.name in knobs:
                found.setdefault(meant.word.name, []).append((meant.fits, offer))
    taken: set[str] = set()
    proposals = []
    for name, candidates in sorted(found.items(), key=lambda one: -max(fits for fits, _ in one[1])):
        candidates.sort(key=lambda one: -one[0])
        best = next(((fits, offer) for fits, offer in candidates if offer.name not in taken), None)
        if best is None:
            continue
        one = _proposed(rig, knobs[name], best[1], best[0], len(candidates))
        if one is not None:
            taken.add(best[1].name)
            proposals.append(one)
    order = [knob.name for knob in rig.knobs]
    return tuple(sorted(proposals, key=lambda one: order.index(one.mapped.knob)))


def _words(name: str) -> str:
    """``MemoryTCas`` and ``memory_t_cas`` as words."""
    return re.sub(r"(?<=[a-z0-9])(?=[A-Z])|[_\-.]+", " ", name).strip()


def _proposed(rig: Rig, knob: Knob, offer: Offer, fits: float, rivals: int) -> Proposal | None:
    stands = rig.stock[knob.name]
    if offer.kind is Kind.CHOICE:
        words = tuple((value, word) for word in offer.choices if (value := _value_of(word, knob)) is not None)
        if not words:
            return None
        auto = next((word for word in offer.choices if word.strip().lower() in AUTO_WORDS), "")
        now = next((value for value, word in words if word == str(offer.current)), None)
        same = isinstance(stands, int) and now == stands
        return _told(Mapped(knob.name, offer.name, words=words, auto=auto), fits, same, rivals)
    scale = _scale(knob, offer, stands if isinstance(stands, int) else None)
    if scale is None:
        return None
    same = isinstance(stands, int) and isinstance(offer.current, int) and offer.current == round(stands * scale)
    return _told(Mapped(knob.name, offer.name, scale), fits, same, rivals)


def _told(mapped: Mapped, fits: float, same: bool, rivals: int) -> Proposal:
    called = fits >= 0.99
    reasons = ["called so" if called else "called nearly so", "stands as the rig does" if same else "stands otherwise"]
    if rivals > 1:
        reasons.append(f"{rivals - 1} other attribute{'s' if rivals > 2 else ''} called alike")
    return Proposal(mapped, called and same and rivals == 1, ", ".join(reasons))


def _value_of(word: str, knob: Knob) -> int | None:
    """A choice that is a number of the knob, in its own unit or in thousandths of it."""
    found = NUMBER.match(word)
    if found is None:
        return None
    for scale in (1.0, 1000.0):
        value = float(found[1]) * scale
        if abs(value - round(value)) < 1e-6 and round(value) in knob.grid:
            return round(value)
    return None


def _scale(knob: Knob, offer: Offer, stands: int | None) -> float | None:
    """The factor by which a number there is ours: by what stands, else by the range."""
    if stands and isinstance(offer.current, int) and offer.current:
        return next(
            (scale for scale in SCALES if offer.current == round(stands * scale)),
            1.0 if _overlap(knob, offer, 1.0) else None,
        )
    return next((scale for scale in SCALES if _overlap(knob, offer, scale)), None)


def _overlap(knob: Knob, offer: Offer, scale: float) -> bool:
    if offer.low is None or offer.high is None:
        return scale == 1.0
    return knob.grid.first * scale <= offer.high and knob.grid.last * scale >= offer.low


# -- as a file ----------------------------------------


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)

    attribute: str = Field(min_length=1, max_length=200)
    scale: float = 1.0
    offset: float = 0.0
    words: dict[str, str] = Field(default_factory=dict)
    auto: str = ""
    sure: bool = True


class DoorMapFile(BaseModel):
    """A map as a file: by knob, its attribute. What is marked as not sure is refused until somebody looked at it."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    format: str = "tenaz/door-map"
    version: int = 1
    knobs: dict[str, _Entry]


def map_text(proposals: Iterable[Proposal]) -> str:
    """A proposal as a file to be looked through: ``sure = false`` is to be settled."""
    document = tomlkit.document()
    document.add("format", tomlkit.item("tenaz/door-map"))
    document.add("version", tomlkit.item(1))
    table = tomlkit.table()
    for one in proposals:
        entry = tomlkit.table()
        entry.comment(one.why)
        entry.add("attribute", one.mapped.attribute)
        if one.mapped.words:
            entry.add("words", {str(value): word for value, word in one.mapped.words})
        elif one.mapped.scale != 1.0:
            entry.add("scale", one.mapped.scale)
        if one.mapped.offset:
            entry.add("offset", one.mapped.offset)
        if one.mapped.auto:
            entry.add("auto", one.mapped.auto)
        if not one.sure:
            entry.add("sure", False)
        table.add(one.mapped.knob, entry)
    document.add("knobs", table)
    return tomlkit.dumps(document)


def read_map(path: Path, rig: Rig) -> tuple[Mapped, ...]:
    """A map from a file.

    Raises:
        Refused: it is none; a knob that the rig does not have; or one that nobody is sure of yet.
    """
    found = parse_toml(DoorMapFile, read_text(path), str(path))
    unsure = [name for name, entry in found.knobs.items() if not entry.sure]
    if unsure:
        raise Refused(
            f"{path}: nobody is sure of {', '.join(unsure[:6])}. Look each up in the firmware, then take the line "
            f"sure = false away, or the knob."
        )
    mapped = []
    for name, entry in found.knobs.items():
        knob = rig.knob(name)
        try:
            words = tuple((int(value), word) for value, word in entry.words.items())
        except ValueError as error:
            raise Refused(f"{path}: {name}: words go by our numbers: {error}.") from error
        mapped.append(Mapped(knob.name, entry.attribute, entry.scale, entry.offset, words, entry.auto))
    return tuple(mapped)
