"""A catalogue brought to a rig: knobs added, the board's spelling and ranges taken over, dead knobs locked."""

from dataclasses import replace

from tenaz.catalogues.format import CatalogueFile, ChangeEntry
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.grid import Grid
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import AUTO, Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.intake.new_rigs import knob_as_found

PER_CORE = "per core"
"""The firmware group whose knobs exist once a core; those of cores that the rig does not have are left out."""


def with_catalogue(rig: Rig, catalogue: CatalogueFile, place: str = "the catalogue") -> Rig:
    """The rig with a catalogue's knobs and changes; values that stand keep standing.

    Raises:
        Refused: a change to a knob that the rig does not have, or one that leaves it no value.
    """
    knobs = list(rig.knobs)
    for entry in catalogue.knob:
        fresh = entry.knob()
        if fresh.group == PER_CORE and rig.cores is not None and _core_number(fresh.name) >= rig.cores:
            continue
        at = next((place for place, knob in enumerate(knobs) if knob.name == fresh.name), None)
        if at is None:
            knobs.insert(_place_in(knobs, fresh.group), fresh)
        else:
            knobs[at] = fresh
    for change in catalogue.change:
        at = next((place for place, knob in enumerate(knobs) if knob.name == change.knob), None)
        if at is None:
            raise Refused(
                f"{place}: {rig.name} has no knob {change.knob} to change; add it as [[knob]], or mend its name."
            )
        knobs[at] = _changed(knobs[at], change, place)
    stock = rig.stock
    for knob in knobs:
        if knob.name not in list(stock):
            stock = stock.replacing(knob.name, knob.default if knob.default is not None else AUTO)
    knobs = [knob_as_found(knob, stock[knob.name]) for knob in knobs]
    ordered = Setpoint.of({knob.name: stock[knob.name] for knob in knobs})
    platform = catalogue.platform.platform() if catalogue.platform else rig.platform
    return replace(rig, knobs=tuple(knobs), stock=ordered, platform=platform)


def _core_number(name: str) -> int:
    digits = "".join(sign for sign in name if sign.isdigit())
    return int(digits) if digits else 0


def _place_in(knobs: list[Knob], group: str) -> int:
    """Behind the last knob of its group, or at the end."""
    return max((place + 1 for place, knob in enumerate(knobs) if knob.group == group), default=len(knobs))


def _changed(knob: Knob, change: ChangeEntry, place: str) -> Knob:
    first = knob.grid.first if change.first is None else change.first
    last = knob.grid.last if change.last is None else change.last
    values = [value for value in knob.grid.values() if first <= value <= last]
    if not values:
        raise Refused(f"{place}: {knob.name}: {first} to {last} leaves none of its values ({knob.grid.show()}).")
    return replace(
        knob,
        label=change.label or knob.label,
        standard_label=(knob.standard_label or knob.label) if change.label else knob.standard_label,
        group=change.group or knob.group,
        grid=Grid.of(values),
        advised_ceiling=knob.advised_ceiling if change.advised_ceiling is None else change.advised_ceiling,
        hard_ceiling=knob.hard_ceiling if change.hard_ceiling is None else change.hard_ceiling,
        locked=knob.locked if change.locked is None else change.locked,
    )
