"""What a board does differently with knobs that are known: spelled, narrowed, widened, locked, left out."""

from collections.abc import Sequence
from dataclasses import replace

from tenaz.catalogues.format import ANY_NAME, CatalogueFile, ChangeEntry, means
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.grid import Grid
from tenaz.core.knobs.knob import Knob


def changed_by(knobs: Sequence[Knob], catalogue: CatalogueFile, place: str) -> tuple[Knob, ...]:
    """The knobs with a catalogue's changes; a change to one that there is one each of changes all of them.

    Raises:
        Refused: a change to a knob that is not there, one that leaves it no value, or one that changes nothing.
    """
    found = [knob for knob in knobs if not any(means(name, knob.name) for name in catalogue.leaves_out)]
    for change in catalogue.change:
        places = [at for at, knob in enumerate(found) if means(change.knob, knob.name)]
        if not places and ANY_NAME not in change.knob:
            raise Refused(f"{place}: there is no knob {change.knob} to change; add it as [[knob]], or mend its name.")
        for at in places:
            found[at] = _changed(found[at], change, place)
    return tuple(found)


def _changed(knob: Knob, change: ChangeEntry, place: str) -> Knob:
    hard = knob.hard_ceiling if change.hard_ceiling is None else change.hard_ceiling
    changed = replace(
        knob,
        label=change.label or knob.label,
        standard_label=(knob.standard_label or knob.label) if change.label else knob.standard_label,
        group=change.group or knob.group,
        grid=_grid(knob, change, place),
        advised_ceiling=knob.advised_ceiling if change.advised_ceiling is None else change.advised_ceiling,
        hard_ceiling=hard,
        locked=knob.locked if change.locked is None else change.locked,
    )
    if changed == knob:
        raise Refused(f"{place}: {knob.name}: the change changes nothing; mend it, or take it out.")
    if hard is not None and changed.grid.last > knob.grid.last and changed.most <= knob.most:
        raise Refused(
            f"{place}: {knob.name}: {changed.grid.last} lies above its hard ceiling of {hard}, so that nothing is "
            f"gained: give hard_ceiling too."
        )
    return changed


def _grid(knob: Knob, change: ChangeEntry, place: str) -> Grid:
    """Its values: narrowed, or widened in its own steps or in others."""
    if change.values is not None:
        return Grid.of(change.values)
    first = knob.grid.first if change.first is None else change.first
    last = knob.grid.last if change.last is None else change.last
    within = [value for value in knob.grid.values() if first <= value <= last]
    wider, step = first < knob.grid.first or last > knob.grid.last, change.step or knob.grid.step
    try:
        if change.step is None and not wider:
            return Grid.of(within)
        if not step:
            raise Refused(
                f"{place}: {knob.name}: {first} to {last} reaches past its values, which are a list; give step, or all "
                f"of them as values."
            )
        fresh = Grid(first, first + (last - first) // step * step, step)
        return fresh if change.step else Grid.of((*fresh.values(), *within, last))
    except ValueError as error:
        raise Refused(
            f"{place}: {knob.name}: {first} to {last} leaves none of its values ({knob.grid.show()})."
        ) from error
