"""Values of the core to JSON and back."""

import zlib
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter

from tenaz.core.knobs.readings import Reading, Source, Sources
from tenaz.core.knobs.setpoint import Auto, Setpoint, Value
from tenaz.core.loads.cards import Drawn
from tenaz.core.loads.plan import LoadPlan, WorkerProgress
from tenaz.core.machine.physical_memory import Laid
from tenaz.core.parts.fitting import Fitting
from tenaz.core.rigs.rig import Rig
from tenaz.core.scores.measure import Measured
from tenaz.core.sensors.last_seconds import LastSeconds
from tenaz.core.trials.facts import LoadFacts, StationFact

_rig = TypeAdapter(Rig)
_plan = TypeAdapter(LoadPlan)
_drawn = TypeAdapter(Drawn)
_lanes = TypeAdapter(tuple[WorkerProgress, ...])
_facts = TypeAdapter(LoadFacts)
_stations = TypeAdapter(tuple[StationFact, ...])
_fitting = TypeAdapter(Fitting)
_laid = TypeAdapter(Laid)
_last_seconds = TypeAdapter(LastSeconds)
_measured = TypeAdapter(Measured)
_readings = TypeAdapter(tuple[Reading, ...])


def rig_to_json(rig: Rig) -> Any:
    """A rig as JSON values."""
    return _rig.dump_python(rig, mode="json")


def rig_from_json(data: Any) -> Rig:
    """The opposite of :func:`rig_to_json`."""
    return _rig.validate_python(data)


def rig_from_text(text: str) -> Rig:
    """The same from text, at once: a workshop of years has hundreds."""
    return _rig.validate_json(text)


def plan_to_json(plan: LoadPlan) -> Any:
    """A load plan as JSON values."""
    return _plan.dump_python(plan, mode="json")


def plan_from_json(data: Any) -> LoadPlan:
    """The opposite of :func:`plan_to_json`."""
    return _plan.validate_python(data)


def drawn_to_json(drawn: Drawn) -> Any:
    """Where in a picture a pixel is wrong, as JSON values."""
    return _drawn.dump_python(drawn, mode="json")


def drawn_from_json(data: Any) -> Drawn:
    """The opposite of :func:`drawn_to_json`."""
    return _drawn.validate_python(data)


def lanes_to_json(lanes: Sequence[WorkerProgress]) -> Any:
    """Workers' progress as JSON values."""
    return _lanes.dump_python(tuple(lanes), mode="json")


def lanes_from_json(data: Any) -> tuple[WorkerProgress, ...]:
    """The opposite of :func:`lanes_to_json`."""
    return _lanes.validate_python(data)


def measured_to_json(measured: Measured) -> Any:
    """What was measured as JSON values; what stands at its usual value is left out."""
    return _measured.dump_python(measured, mode="json", exclude_defaults=True)


def measured_from_json(data: Any) -> Measured:
    """The opposite of :func:`measured_to_json`."""
    return _measured.validate_python(data)


def laid_to_bytes(laid: Laid) -> bytes:
    """Where a load lay, packed: of memory in small pieces that is a long list."""
    return zlib.compress(_laid.dump_json(laid), 6)


def laid_from_bytes(packed: bytes) -> Laid:
    """The opposite of :func:`laid_to_bytes`."""
    return _laid.validate_json(zlib.decompress(packed))


def last_seconds_to_bytes(seconds: LastSeconds) -> bytes:
    """The last seconds of a machine, packed."""
    return zlib.compress(_last_seconds.dump_json(seconds), 6)


def last_seconds_from_bytes(packed: bytes) -> LastSeconds:
    """The opposite of :func:`last_seconds_to_bytes`."""
    return _last_seconds.validate_json(zlib.decompress(packed))


def facts_to_json(facts: LoadFacts) -> Any:
    """The facts of a load as JSON values; what stands at its usual value is left out."""
    return _facts.dump_python(facts, mode="json", exclude_defaults=True)


def facts_from_json(data: Any) -> LoadFacts:
    """The opposite of :func:`facts_to_json`."""
    return _facts.validate_python(data)


def stations_to_json(stations: Sequence[StationFact]) -> Any:
    """What stations took as JSON values."""
    return _stations.dump_python(tuple(stations), mode="json", exclude_defaults=True)


def stations_from_json(data: Any) -> tuple[StationFact, ...]:
    """The opposite of :func:`stations_to_json`."""
    return _stations.validate_python(data)


def readings_to_json(readings: Sequence[Reading]) -> Any:
    """Readings as JSON values."""
    return _readings.dump_python(tuple(readings), mode="json", exclude_defaults=True)


def readings_from_json(data: Any) -> tuple[Reading, ...]:
    """The opposite of :func:`readings_to_json`."""
    return _readings.validate_python(data)


def fitting_to_json(fitting: Fitting) -> Any:
    """How parts stand as JSON values; what stands at its usual value is left out."""
    return _fitting.dump_python(fitting, mode="json", exclude_defaults=True)


def fitting_from_json(data: Any) -> Fitting:
    """The opposite of :func:`fitting_to_json`."""
    return _fitting.validate_python(data)


def sources_to_json(sources: Sources) -> Any:
    """How values are known, as names by source."""
    return {source.value: list(names) for source, names in sources}


def sources_from_json(data: Any) -> Sources:
    """The opposite of :func:`sources_to_json`."""
    return tuple((Source(source), tuple(map(str, names))) for source, names in data.items())


def setpoint_to_json(setpoint: Setpoint) -> Any:
    """A setpoint as a list of pairs: the order of the sheet is kept."""
    return [[name, value] for name, value in setpoint.items_by_name]


def setpoint_from_json(data: Any) -> Setpoint:
    """The opposite of :func:`setpoint_to_json`."""
    items: list[tuple[str, Value]] = []
    for name, value in data:
        known = Auto(value) if isinstance(value, str) else value
        if not isinstance(name, str) or not isinstance(known, int | Auto):
            raise ValueError(f"no setpoint: {str(data)[:60]}")
        items.append((name, known))
    return Setpoint(tuple(items))


def value_from_json(value: Any) -> Value:
    """A knob's value: a number, or what is none."""
    return Auto(value) if isinstance(value, str) else value


def as_utc(instant: object) -> datetime:
    """SQLite keeps no zone; every instant in the book is UTC.

    Raises:
        ValueError: it is no instant.
    """
    if not isinstance(instant, datetime):
        raise ValueError(f"no instant: {instant!r}")
    return instant.astimezone(UTC) if instant.tzinfo else instant.replace(tzinfo=UTC)
