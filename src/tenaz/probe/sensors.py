"""Sensors that the kernel publishes: hwmon, powercap energy, clocks, throttle counters, error counters of memory.

Found once, then read over and over through files that stay open. A reading is a number in the sensor's unit, or None.
"""

import os
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from tenaz.core.sensors.telemetry import Sensor, SensorKind, is_watched
from tenaz.probe.guarding import with_guards
from tenaz.probe.kernel_log import KernelLog
from tenaz.probe.tree import Tree

HWMON_KINDS = {
    "temp": (SensorKind.TEMPERATURE, 1e-3),
    "fan": (SensorKind.FAN, 1.0),
    "in": (SensorKind.VOLTAGE, 1e-3),
    "power": (SensorKind.POWER, 1e-6),
    "curr": (SensorKind.CURRENT, 1e-3),
    "freq": (SensorKind.CLOCK, 1e-6),
}
"""File prefix, what it measures, the factor to the sensor's unit (Linux hwmon sysfs interface)."""

CPU = "sys/devices/system/cpu"


@dataclass(slots=True)
class _Channel:
    """One sensor, how it is read at a time (None: it says nothing), and how it is closed."""

    sensor: Sensor
    chip: str
    label: str
    read: Callable[[float], float | None]
    close: Callable[[], None]


class SensorTree:
    """All sensors below a root. Not for several threads at once."""

    def __init__(self, root: Path = Path("/"), chosen: Sequence[str] = ()) -> None:
        self._tree = Tree(root)
        self._chosen = chosen
        self._channels: list[_Channel] = []
        self._hwmon()
        self._powercap()
        self._clocks()
        self._graphics_clocks()
        self._counters()
        self._kernel_messages()
        told = [(channel.sensor, channel.chip, channel.label) for channel in self._channels]
        self._sensors = with_guards(told)

    @property
    def sensors(self) -> tuple[Sensor, ...]:
        """The sensors found, in the order of their readings."""
        return self._sensors

    def read(self, at_s: float) -> tuple[float | None, ...]:
        """Read all; ``at_s`` is the monotonic time, from which powers follow out of energies."""
        return tuple(channel.read(at_s) for channel in self._channels)

    def close(self) -> None:
        """Close the files."""
        for channel in self._channels:
            channel.close()
        self._channels = []

    def _add(
        self,
        path: str,
        sensor_id: str,
        label: str,
        kind: SensorKind,
        value: Callable[[float, float], float | None],
        own: tuple[str, str] = ("", ""),
    ) -> None:
        """Open a sensor; ``own`` are the names that the kernel has for its chip and for itself."""
        sensor = Sensor(sensor_id, label, kind)
        # Counters of errors and throttling cost nothing and must not be missed: they are watched whatever is chosen.
        if not kind.counts and not is_watched(sensor, self._chosen):
            return
        try:
            file = os.open(self._tree.root / path, os.O_RDONLY)
        except OSError:
            self._tree.data(path, expected=True)
            return

        def read(at_s: float) -> float | None:
            try:
                return value(float(os.pread(file, 64, 0)), at_s)
            except (OSError, ValueError):
                return None

        self._channels.append(_Channel(sensor, *own, read, partial(os.close, file)))

    def _graphics_clocks(self) -> None:
        """Of cards whose driver tells its clock beside hwmon, in MHz."""
        for path in self._tree.folders("sys/class/drm/card[0-9]*/gt_act_freq_mhz"):
            card = path.split("/")[3]
            self._add(path, f"drm/{card}", f"drm.{card} clock", SensorKind.CLOCK, _scaled(1.0))

    def _kernel_messages(self) -> None:
        """Hardware errors that the kernel tells of, counted from now on."""
        try:
            log = KernelLog(self._tree.root / "dev/kmsg")
        except OSError:
            return
        sensor = Sensor("kernel/hardware", "kernel messages", SensorKind.HARDWARE_ERRORS)
        self._channels.append(_Channel(sensor, "", "", lambda _: float(log.errors()), log.close))

    def _hwmon(self) -> None:
        seen: dict[str, int] = {}
        for folder in self._tree.folders("sys/class/hwmon/hwmon*"):
            name = self._tree.text(f"{folder}/name") or folder.rsplit("/", 1)[1]
            # Two chips of one driver are told apart by a number: the kernel's own numbering changes between boots.
            seen[name] = seen.get(name, 0) + 1
            chip = name if seen[name] == 1 else f"{name}.{seen[name]}"
            for path in self._tree.folders(f"{folder}/*_input"):
                found = re.fullmatch(
                    r"(temp|fan|in|power|curr|freq)(\d+)", path.rsplit("/", 1)[1].removesuffix("_input")
                )
                if found:
                    kind, scale = HWMON_KINDS[found[1]]
                    label = self._tree.text(path.removesuffix("_input") + "_label") or found[0]
                    own = (name, label)
                    self._add(path, f"{chip}/{found[0]}", f"{chip} {label}", kind, _scaled(scale), own)

    def _powercap(self) -> None:
        for folder in self._tree.folders("sys/class/powercap/*"):
            name, whole = self._tree.text(f"{folder}/name"), self._tree.whole(f"{folder}/max_energy_range_uj")
            if name and self._tree.exists(f"{folder}/energy_uj"):
                zone = folder.rsplit("/", 1)[1]
                meter = _Power(float(whole) if whole else 0.0)
                self._add(f"{folder}/energy_uj", f"powercap/{zone}", f"{name} power", SensorKind.POWER, meter)

    def _clocks(self) -> None:
        for folder in self._tree.folders(f"{CPU}/cpu[0-9]*"):
            path = f"{folder}/cpufreq/scaling_cur_freq"
            if self._tree.exists(path):
                number = folder.rsplit("cpu", 1)[1]
                self._add(path, f"cpufreq/{number}", f"clock {number}", SensorKind.CLOCK, _scaled(1e-3))

    def _counters(self) -> None:
        for folder in self._tree.folders(f"{CPU}/cpu[0-9]*/thermal_throttle"):
            number = folder.split("/cpu")[-1].split("/")[0]
            for which in ("core", "package"):
                path = f"{folder}/{which}_throttle_count"
                if self._tree.exists(path):
                    label = f"{which} of cpu {number}"
                    self._add(path, f"throttle/{which}{number}", label, SensorKind.THROTTLES, _scaled(1.0))
        for folder in self._tree.folders("sys/devices/system/edac/mc/mc[0-9]*"):
            controller = folder.rsplit("/", 1)[1]
            for which, word in (("ce", "corrected"), ("ue", "uncorrected")):
                path = f"{folder}/{which}_count"
                if self._tree.exists(path):
                    label = f"{word} by {controller}"
                    self._add(path, f"edac/{controller}/{which}", label, SensorKind.HARDWARE_ERRORS, _scaled(1.0))


def _scaled(scale: float) -> Callable[[float, float], float | None]:
    return lambda number, _: number * scale


class _Power:
    """Watts out of a counter of microjoules that begins anew at its range."""

    def __init__(self, range_uj: float) -> None:
        self._range_uj = range_uj
        self._last: tuple[float, float] | None = None

    def __call__(self, energy_uj: float, at_s: float) -> float | None:
        before, self._last = self._last, (energy_uj, at_s)
        if before is None or at_s <= before[1]:
            return None
        spent = energy_uj - before[0]
        if spent < 0:
            spent += self._range_uj
        return spent * 1e-6 / (at_s - before[1])
