"""What a sheet of timings means: latencies, row cycle, bandwidth, refresh."""

from collections.abc import Mapping
from dataclasses import dataclass

from tenaz.core.knobs.timings.clocks import Family, MemoryClock
from tenaz.core.knobs.timings.minima import in_effect
from tenaz.core.knobs.timings.rules import BASE_REFRESH_PS

BYTES_A_TRANSFER = 8
"""A 64-bit channel; a DDR5 module's two 32-bit subchannels together."""

FORGIVEN_SHARE = 0.01
"""A refresh interval that is longer than the standard's by less than this is the standard's, rounded."""


REFRESH_CYCLE = {1: "t_rfc1_nck", 2: "t_rfc2_nck", 4: "t_rfc4_nck"}
"""Which timing one refresh takes, by how finely it is divided."""
WHOLE_REFRESH = ("t_rfc_nck", "t_rfcab_nck")
"""What it is called where it cannot be divided: DDR3, and of all banks LPDDR."""


@dataclass(frozen=True, slots=True)
class Figures:
    """Times in ns, refresh interval in µs, share of time lost to refresh (0 to 1), peak GB/s of one channel.
    ``cells_hold_us`` is the interval as the cells see it: a finer refresh comes oftener and covers fewer rows.

    None where a timing that it needs is not known.
    """

    first_word_ns: float | None
    row_miss_ns: float | None
    row_conflict_ns: float | None
    row_cycle_ns: float | None
    refresh_us: float | None
    cells_hold_us: float | None
    refresh_lost: float | None
    peak_gb_s: float

    @property
    def times_ns(self) -> tuple[tuple[str, float], ...]:
        """What is worth naming, with its time; what is not known is left out."""
        named = (
            ("first word", self.first_word_ns),
            ("row conflict", self.row_conflict_ns),
            ("row cycle", self.row_cycle_ns),
        )
        return tuple((name, time_ns) for name, time_ns in named if time_ns is not None)


def figures(sheet: Mapping[str, int], rate_mts: int, family: Family) -> Figures:
    """Figures of timings (clocks by name) at a data rate: of those that take effect, whatever is typed."""
    clock, values = MemoryClock.of(rate_mts, family), in_effect(sheet, family)

    def total_ns(*names: str) -> float | None:
        return clock.ns(sum(values[name] for name in names)) if all(name in values for name in names) else None

    interval, refresh = values.get("t_refi_nck"), refresh_clocks(values)
    return Figures(
        first_word_ns=total_ns("t_cl_nck"),
        row_miss_ns=total_ns("t_rcd_nck", "t_cl_nck"),
        row_conflict_ns=total_ns("t_rp_nck", "t_rcd_nck", "t_cl_nck"),
        row_cycle_ns=total_ns("t_rc_nck"),
        refresh_us=clock.ns(refresh[1]) / 1000 if refresh else None,
        cells_hold_us=clock.ns(interval) / 1000 if interval else None,
        refresh_lost=refresh[0] / refresh[1] if refresh else None,
        peak_gb_s=clock.thirds_mts / 3 * BYTES_A_TRANSFER / 1000,
    )


def refresh_clocks(values: Mapping[str, int]) -> tuple[int, float] | None:
    """Clocks that one refresh takes, and clocks from one to the next, by the fineness that is set (JESD79-4 and -5,
    fine granularity refresh); None where a timing of them is not known.
    """
    fineness = values.get("refresh_fineness", 1)
    names, interval = (REFRESH_CYCLE.get(fineness, ""), *WHOLE_REFRESH), values.get("t_refi_nck")
    takes = next((values[name] for name in names if name in values), None)
    return (takes, interval / fineness) if takes and interval else None


def refresh_note(interval_us: float, family: Family) -> str:
    """What a refresh interval means for cells: retention is a time, and about halves for each 10 °C."""
    if family not in BASE_REFRESH_PS:
        return "no standard is known for this memory: prove it warm"
    base_us = BASE_REFRESH_PS[family] / 1e6
    times = interval_us / base_us
    if times <= 0.5 + FORGIVEN_SHARE:
        return "half the base interval or less: good above 85 °C too"
    if times <= 1 + FORGIVEN_SHARE:
        return "the base interval, good up to 85 °C; above that the standards ask for half of it"
    return (
        f"{times:.1f} times the base interval: cells must hold {times:.1f} times as long. Retention about halves for "
        f"each 10 °C, so prove it warm"
    )
