"""``tenaz watch``: this machine's sensors, on a line or as data."""

import time
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_line
from tenaz.cli.kit.options import errors_told, leave, parsed, say
from tenaz.core.base.typed import parse_duration_s

if TYPE_CHECKING:
    from collections.abc import Sequence

    from tenaz.core.sensors.telemetry import Record


def watch(
    period_s: Annotated[
        float, typer.Option("--every", parser=parsed(parse_duration_s), help="How often.", metavar="TIME")
    ] = "1s",  # type: ignore[assignment] # given as text, handed over parsed
    count: Annotated[int | None, typer.Option("--count", min=1, help="End after so many samples.")] = None,
    only: Annotated[str, typer.Option("--only", help="Only sensors whose name holds this.")] = "",
    as_json: Annotated[bool, typer.Option("--json", help="One JSON object a sample.")] = False,
    openmetrics: Annotated[
        bool, typer.Option("--openmetrics", help="One sample as OpenMetrics text, for a collector.")
    ] = False,
) -> None:
    """Watch this machine's sensors, with lowest, mean and highest. Ctrl-C ends it.

    Examples:

        tenaz watch --every 5s
        tenaz watch --json --count 60
        tenaz watch --openmetrics

    Counters of errors and throttling are always among them.

    Exit status: 0 watched, 2 there is nothing to watch.
    """
    from tenaz.core.sensors.telemetry import Record
    from tenaz.probe.sensors import SensorTree

    if as_json and openmetrics:
        leave("--json and --openmetrics are two forms of one output; give one of them.")
    tree = SensorTree()
    wanted = [k for k, sensor in enumerate(tree.sensors) if only.lower() in sensor.label.lower()]
    if not wanted:
        held = f" whose name holds {only!r}" if only else ""
        leave(f"The system publishes no sensor{held} here; its drivers may be missing, or this is a virtual machine.")
    records = [Record(tree.sensors[k]) for k in wanted]
    started_s, taken = time.monotonic(), 0
    if openmetrics:
        tree.read(time.monotonic())
        time.sleep(min(period_s, 1.0))
        count = 1
    with errors_told():
        try:
            while count is None or taken < count:
                values = tree.read(time.monotonic())
                for record, place in zip(records, wanted, strict=True):
                    record.see(values[place])
                taken += 1
                if openmetrics:
                    say(openmetrics_text(records), nl=False)
                elif as_json:
                    sample = {r.sensor.id: values[k] for r, k in zip(records, wanted, strict=True)}
                    say_line("sample", {"at_s": round(time.monotonic() - started_s, 3), "values": sample})
                else:
                    say("\n".join(_lines(records)) + "\n")
                if count is None or taken < count:
                    time.sleep(max(0.0, started_s + taken * period_s - time.monotonic()))
        except KeyboardInterrupt:
            pass
        finally:
            tree.close()


def _lines(records: "Sequence[Record]") -> list[str]:
    lines = [f"{'':<28} {'now':>9} {'lowest':>9} {'mean':>9} {'highest':>9}"]
    for record in records:
        if record.count == 0:
            lines.append(f"{record.sensor.label:<28} {record.health if record.bad else 'not yet':>9}")
            continue
        numbers = (record.last, record.lowest, record.mean, record.highest)
        shown = " ".join(f"{number or 0.0:>9.1f}" for number in numbers)
        doubt = "" if record.health == "fine" else f"  {record.health}"
        lines.append(f"{record.sensor.label:<28} {shown} {record.sensor.kind.unit}{doubt}")
    return lines


def openmetrics_text(records: "Sequence[Record]") -> str:
    """The last readings in the OpenMetrics text format: one family a kind, units in the names."""
    words = {"°C": "celsius", "rpm": "rpm", "V": "volts", "W": "watts", "A": "amperes", "MHz": "megahertz", "": ""}
    families: dict[str, list[str]] = {}
    kinds: dict[str, str] = {}
    for record in records:
        if record.last is None:
            continue
        kind = record.sensor.kind
        unit = words[kind.unit]
        family = f"tenaz_{kind.replace(' ', '_')}" + (f"_{unit}" if unit else "")
        kinds[family] = "counter" if kind.counts else "gauge"
        label = record.sensor.label.replace("\\", r"\\").replace('"', r"\"")
        name = f"{family}_total" if kind.counts else family
        families.setdefault(family, []).append(f'{name}{{sensor="{record.sensor.id}",label="{label}"}} {record.last:g}')
    lines = []
    for family, samples in families.items():
        lines += [f"# TYPE {family} {kinds[family]}", *samples]
    return "\n".join([*lines, "# EOF"]) + "\n"
