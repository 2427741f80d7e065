"""A catalogue brought to a rig: knobs added, the board's spelling and ranges taken over, dead knobs locked."""

from collections.abc import Sequence
from dataclasses import replace

from tenaz.catalogues.changing import changed_by
from tenaz.catalogues.format import CatalogueFile, means
from tenaz.catalogues.reading import built_in
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import AUTO, Setpoint, Value
from tenaz.core.rigs.rig import Rig
from tenaz.intake.new_rigs import knob_as_found

PROCESSOR = "processor"
"""Its catalogue, and the domain of its knobs."""


def with_catalogue(rig: Rig, catalogue: CatalogueFile, place: str = "the catalogue") -> Rig:
    """The rig with a catalogue's knobs and changes; values that stand keep standing.

    Raises:
        Refused: a change to a knob that the rig does not have, one that leaves it no value, or that changes nothing.
    """
    knobs = list(rig.knobs)
    for fresh in (knob for entry in catalogue.knob for knob in entry.knobs(rig.cores_known)):
        at = next((place for place, knob in enumerate(knobs) if knob.name == fresh.name), None)
        if at is None:
            knobs.insert(_place_in(knobs, fresh.group), fresh)
        else:
            knobs[at] = fresh
    try:
        knobs = list(changed_by(knobs, catalogue, place))
    except Refused as refused:
        raise Refused(f"{refused} {rig.name} stays as it is.") from refused
    platform = catalogue.platform.platform() if catalogue.platform else rig.platform
    return replace(_with_stock(rig, knobs), platform=platform)


def with_more_of(rig: Rig, fresh: Rig) -> Rig:
    """The rig with those knobs that another taking in of it has and it does not."""
    knobs, has = list(rig.knobs), {knob.name for knob in rig.knobs}
    for knob in fresh.knobs:
        if knob.name not in has:
            knobs.insert(_place_in(knobs, knob.group), knob)
    return rig if len(knobs) == len(has) else _with_stock(rig, knobs, fresh.stock)


def _with_stock(rig: Rig, knobs: Sequence[Knob], told: Setpoint | None = None) -> Rig:
    """The rig with these knobs, each with a value of its stock: as it is, as it was told, or its usual one."""
    stock: dict[str, Value] = {}
    for knob in knobs:
        usual = knob.default if knob.default is not None else AUTO
        stock[knob.name] = rig.stock[knob.name] if knob.name in rig.stock else told[knob.name] if told else usual
    return replace(rig, knobs=tuple(knob_as_found(knob, stock[knob.name]) for knob in knobs), stock=Setpoint.of(stock))


def with_cores(rig: Rig, cores: int | None) -> Rig:
    """The rig with so many cores: each has knobs of its own, and those of cores that it does not have are gone."""
    rig = replace(rig, cores=cores)
    each = [entry for entry in built_in(PROCESSOR).knob if entry.each]
    there = {knob.name for entry in each for knob in entry.knobs(rig.cores_known)}
    kept = tuple(k for k in rig.knobs if k.name in there or not any(means(entry.name, k.name) for entry in each))
    has = {knob.name for knob in kept}
    rig = replace(rig, knobs=kept)
    missing = tuple(one for one in each if {knob.name for knob in one.knobs(rig.cores_known)} - has)
    if not missing or not any(knob.domain == PROCESSOR for knob in kept):
        return rig
    return with_catalogue(rig, CatalogueFile(knob=missing))


def _place_in(knobs: list[Knob], group: str) -> int:
    """Behind the last knob of its group, or at the end."""
    return max((place + 1 for place, knob in enumerate(knobs) if knob.group == group), default=len(knobs))
