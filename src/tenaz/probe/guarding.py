"""Which temperatures guard a part, by the kernel's own names: the table is guards.toml."""

import re
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fnmatch import fnmatchcase
from functools import cache
from importlib import resources

from tenaz.core.sensors.telemetry import Guards, Sensor, SensorKind


@dataclass(frozen=True, slots=True)
class _Entry:
    part: Guards
    chips: tuple[str, ...]
    labels: tuple[str, ...]

    def fits(self, chip: str, words: set[str]) -> bool:
        return any(fnmatchcase(chip, one) for one in self.chips) or not words.isdisjoint(self.labels)


@cache
def _table() -> tuple[_Entry, ...]:
    text = resources.files("tenaz.probe").joinpath("guards.toml").read_text(encoding="utf-8")
    return tuple(
        _Entry(Guards(one["part"]), tuple(one.get("chips", ())), tuple(one.get("labels", ())))
        for one in tomllib.loads(text)["guard"]
    )


def guards_of(chip: str, label: str) -> Guards:
    """What a temperature guards, by the name of its chip and its own label."""
    words = set(re.findall(r"[a-z]+", label.lower()))
    return next((entry.part for entry in _table() if entry.fits(chip, words)), Guards.NOTHING)


def with_guards(sensors: Sequence[tuple[Sensor, str, str]]) -> tuple[Sensor, ...]:
    """Sensors, each told with the name of its chip and its label, with what each guards.

    Where a chip gives the temperature of the die as well, its control temperature guards nothing: that one is the other
    with an offset by which fans are led, on some processors tens of degrees above it.
    """
    dies = {chip for _, chip, label in sensors if label.lower() == "tdie"}
    found = []
    for sensor, chip, label in sensors:
        part = guards_of(chip, label) if sensor.kind is SensorKind.TEMPERATURE else Guards.NOTHING
        aside = chip in dies and label.lower() == "tctl"
        found.append(replace(sensor, guards=Guards.NOTHING if aside else part))
    return tuple(found)
