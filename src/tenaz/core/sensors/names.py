"""What a sensor measures, as people say it: *module A2*, *core 3*, *board*; its own label is the driver's."""

import re
from collections import Counter
from collections.abc import Sequence

from tenaz.core.sensors.telemetry import Sensor

GRAPHICS_CHIPS = ("amdgpu", "radeon", "nouveau", "i915", "xe", "simgraphics", "drm")
MODULE_CHIPS = ("spd5118", "jc42")
_RULES: tuple[tuple[str, str], ...] = (
    (r"coretemp package id \d+", "processor"),
    (r"(k10temp|zenpower) (tctl|tdie)", "processor"),
    (r"(k10temp|zenpower) tccd(\d+)", "chiplet {2}"),
    (r"(coretemp core|clock) (\d+)", "core {2}"),
    (r"(acpitz|pch\S*) temp1", "board"),
    (r"simboard temp(\d+)", "board"),
    (r"(simboard|nct\S+|it8\S+) fan(\d+)", "fan {2}"),
    (r"simboard cores", "core voltage"),
    (r"nvme\S* composite", "disk"),
    (r"drivetemp\S* temp1", "disk"),
    (r"(amdgpu|radeon|nouveau|i915|xe)\S* (edge|temp1|pkg)", "graphics"),
    (r"amdgpu\S* junction", "graphics, hottest"),
    (r"amdgpu\S* mem", "graphics memory"),
    (r"(amdgpu\S* sclk|drm\S* clock)", "graphics clock"),
    (r"amdgpu\S* mclk", "graphics memory clock"),
    (r"(amdgpu|nouveau|i915|xe)\S* (PPT|power\d|energy\d|slowPPT|fastPPT)", "graphics power"),
    (r"(amdgpu|radeon|nouveau|i915|xe)\S* fan\d+", "graphics fan"),
    (r"simgraphics temp1", "graphics"),
    (r"simgraphics fan1", "graphics fan"),
    (r"simgraphics power1", "graphics power"),
    (r"simgraphics freq1", "graphics clock"),
    (r"simgraphics freq2", "graphics memory clock"),
)
"""Labels of the kernel's drivers, and what they measure."""


def of_graphics(sensor_id: str) -> bool:
    """Whether a sensor is a graphics card's."""
    return sensor_id.partition("/")[0].partition(".")[0] in GRAPHICS_CHIPS


def names_of(sensors: Sequence[Sensor], slots: Sequence[str] = ()) -> dict[str, str]:
    """By a sensor's id what it measures; its own label where that is not known. Modules are named by the ``slots`` that
    they sit in, in the order of their addresses, where each has a sensor.
    """
    modules = [one.id for one in sensors if one.label.partition(" ")[0].partition(".")[0] in MODULE_CHIPS]
    found = {}
    for place, one in enumerate(modules):
        found[one] = f"module {slots[place]}" if len(slots) == len(modules) else f"module {place + 1}"
    for sensor in sensors:
        found.setdefault(sensor.id, _by_rule(sensor.label))
    many = Counter(zip(found.values(), (one.kind for one in sensors), strict=False))
    taken: Counter[str] = Counter()
    for sensor in sensors:
        name = found[sensor.id]
        if many[name, sensor.kind] > 1:
            taken[name] += 1
            found[sensor.id] = f"{name} {taken[name]}" if taken[name] > 1 else name
    return found


def _by_rule(label: str) -> str:
    for rule, name in _RULES:
        match = re.fullmatch(rule, label, re.IGNORECASE)
        if match is not None:
            return name.format(match[0], *match.groups())
    return label
