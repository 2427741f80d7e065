"""What the kernel tells of clocks and limits that may have been moved: its documented cpufreq and powercap files."""

from tenaz.core.machine.machine import GRAPHICS_POWER, KernelLimit
from tenaz.probe.tree import Tree

CPUFREQ = "sys/devices/system/cpu/cpu0/cpufreq"
BOOST = ("sys/devices/system/cpu/cpufreq/boost", False), ("sys/devices/system/cpu/*/no_turbo", True)
"""Files that say whether cores run above their base clock; of the second kind a 1 says that they do not."""
MICROWATTS = 1e6
CAPS = "sys/class/drm/card[0-9]*/device/hwmon/hwmon*/power1_cap"
ZONES = {"long_term": "power_limit_w", "short_term": "short_power_limit_w"}
"""Names of a power zone's constraints, with our knobs for them."""


def kernel_limits(tree: Tree) -> tuple[KernelLimit, ...]:
    """Limits in force, each with what is usual where the kernel tells it."""
    return (*_power(tree), *_boost(tree), *_clock(tree), *_graphics(tree))


def _power(tree: Tree) -> list[KernelLimit]:
    found = []
    for folder in tree.folders("sys/class/powercap/*:0"):
        for number in range(3):
            knob = ZONES.get(tree.text(f"{folder}/constraint_{number}_name") or "")
            limit = tree.whole(f"{folder}/constraint_{number}_power_limit_uw") if knob else None
            if knob and limit:
                usual = tree.whole(f"{folder}/constraint_{number}_max_power_uw")
                found.append(KernelLimit(knob, round(limit / MICROWATTS), round(usual / MICROWATTS) if usual else None))
    return found


def _graphics(tree: Tree) -> list[KernelLimit]:
    """What graphics cards may draw, in percent of what their drivers take for usual: the least of several."""
    told = [(tree.whole(path), tree.whole(f"{path}_default")) for path in tree.folders(CAPS)]
    parts = [round(100 * cap / usual) for cap, usual in told if cap and usual]
    return [KernelLimit(GRAPHICS_POWER, min(parts), 100)] if parts else []


def _boost(tree: Tree) -> list[KernelLimit]:
    for pattern, inverted in BOOST:
        for path in tree.folders(pattern):
            told = tree.whole(path)
            if told in (0, 1):
                return [KernelLimit("boost_on", 1 - told if inverted else told, 1)]
    return []


def _clock(tree: Tree) -> list[KernelLimit]:
    """The highest clock that is allowed, where that was lowered."""
    allowed, highest = tree.whole(f"{CPUFREQ}/scaling_max_freq"), tree.whole(f"{CPUFREQ}/cpuinfo_max_freq")
    if not allowed or not highest:
        return []
    return [KernelLimit("highest_mhz", round(allowed / 1000), round(highest / 1000))]
