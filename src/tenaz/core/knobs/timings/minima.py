"""What timings ask of each other: dependent minima, values without effect, each explained in a sentence."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.knobs.timings.rules import DDR4_WRITE_LATENCIES_NCK, RULES


class TimingFault(StrEnum):
    """What is the matter with a value."""

    TOO_LOW = "too low"
    INERT = "no effect"
    NOT_ALLOWED = "not allowed"
    OUT_OF_REACH = "too tight"

    @property
    def harmless(self) -> bool:
        """Whether a sheet with it works as it is written, or easier."""
        return self is TimingFault.INERT


@dataclass(frozen=True, slots=True)
class Remark:
    """One thing said of one timing, with the value that would be right."""

    name: str
    standing: TimingFault
    text: str
    least_nck: int

    @property
    def brief(self) -> str:
        """For a narrow place."""
        return f"{self.standing}, {'asked' if self.standing is TimingFault.OUT_OF_REACH else 'least'} {self.least_nck}"


@dataclass(frozen=True, slots=True)
class Minimum:
    """A timing that follows from others: the fewest clocks by them, and what happens below that.

    ``by`` says in the trade's signs where the minimum comes from.
    """

    name: str
    needs: tuple[str, ...]
    least: Callable[[Mapping[str, int]], int]
    standing: TimingFault
    by: str
    below: str


_OF_ALL = (
    Minimum(
        "t_ras_nck",
        ("t_rcd_nck", "t_rtp_nck"),
        lambda v: v["t_rcd_nck"] + v["t_rtp_nck"],
        TimingFault.INERT,
        "tRCD + tRTP",
        "a read may begin tRCD after activate, and the row may close tRTP after the read: it stays open that long",
    ),
    Minimum(
        "t_rc_nck",
        ("t_ras_nck", "t_rp_nck"),
        lambda v: v["t_ras_nck"] + v["t_rp_nck"],
        TimingFault.INERT,
        "tRAS + tRP",
        "a row is open for tRAS and closing for tRP before it can be opened again: no cycle is shorter",
    ),
    Minimum(
        "t_rrd_l_nck",
        ("t_rrd_s_nck",),
        lambda v: v["t_rrd_s_nck"],
        TimingFault.INERT,
        "tRRD_S",
        "activates in one bank group cannot follow closer than activates anywhere",
    ),
    Minimum(
        "t_faw_nck",
        ("t_rrd_s_nck",),
        lambda v: 4 * v["t_rrd_s_nck"],
        TimingFault.INERT,
        "4 × tRRD_S",
        "four activates take that long already: the window never holds a fifth one back",
    ),
    Minimum(
        "t_wtr_l_nck",
        ("t_wtr_s_nck",),
        lambda v: v["t_wtr_s_nck"],
        TimingFault.INERT,
        "tWTR_S",
        "turning round within a bank group takes no less than turning round anywhere",
    ),
    Minimum(
        "t_ccd_l_nck",
        ("t_ccd_s_nck",),
        lambda v: v["t_ccd_s_nck"],
        TimingFault.INERT,
        "tCCD_S",
        "columns of one bank group cannot follow closer than columns of any",
    ),
    Minimum(
        "t_faw_nck",
        ("t_rrd_nck",),
        lambda v: 4 * v["t_rrd_nck"],
        TimingFault.INERT,
        "4 × tRRD",
        "four activates take that long already: the window never holds a fifth one back",
    ),
    Minimum(
        "t_rpab_nck",
        ("t_rp_nck",),
        lambda v: v["t_rp_nck"],
        TimingFault.INERT,
        "tRP",
        "closing all banks takes no less than closing one",
    ),
    Minimum(
        "t_rfcab_nck",
        ("t_rfcpb_nck",),
        lambda v: v["t_rfcpb_nck"],
        TimingFault.TOO_LOW,
        "tRFCpb",
        "all banks cannot be refreshed sooner than one: rows would be cut off while being restored",
    ),
    Minimum(
        "t_rfc1_nck",
        ("t_rfc2_nck",),
        lambda v: v["t_rfc2_nck"],
        TimingFault.TOO_LOW,
        "tRFC2",
        "a whole refresh cannot be done sooner than half of one: rows would be cut off while being restored",
    ),
)
"""What holds in every generation that has these timings."""

_OF_DDR5 = (
    Minimum(
        "t_cwl_nck",
        ("t_cl_nck",),
        lambda v: v["t_cl_nck"] - 2,
        TimingFault.INERT,
        "tCL − 2",
        "DDR5 has no write latency of its own: the module takes tCL − 2 whatever is typed",
    ),
    Minimum(
        "t_ccd_l_wr_nck",
        ("t_ccd_l_wr2_nck",),
        lambda v: v["t_ccd_l_wr2_nck"],
        TimingFault.INERT,
        "tCCD_L_WR2",
        "a write that must read its line first cannot follow sooner than one that need not",
    ),
)

MINIMA = {
    family: tuple(
        one
        for one in ((*_OF_DDR5, *_OF_ALL) if family is Family.DDR5 else _OF_ALL)
        if {one.name, *one.needs} <= RULES[family].keys()
    )
    for family in Family
}
"""In an order in which each minimum depends only on those before it."""


def check_timings(values: Mapping[str, int], family: Family) -> tuple[Remark, ...]:
    """Everything that is to be said of a sheet's timings (clocks by name); what is not there is not checked.

    A value without effect counts for others as what the controller takes instead of it.
    """
    remarks = [*_own_minima(values, family)]
    taken = _taken(values, remarks)
    for rule in MINIMA[family]:
        value = values.get(rule.name)
        if value is None or any(name not in taken for name in rule.needs):
            continue
        least = rule.least(taken)
        fixed = rule.name == "t_cwl_nck"
        if value < least or (fixed and value != least):
            remark = Remark(rule.name, rule.standing, f"{rule.by} is {least}: {rule.below}", least)
            remarks.append(remark)
            taken = _taken(taken, [remark])
    return tuple(remarks)


def in_effect(values: Mapping[str, int], family: Family) -> dict[str, int]:
    """The sheet as the controller works with it: values without effect, or that no register holds, are replaced by what
    it takes instead. What is merely too low stays: it is really tried.
    """
    return _taken(values, check_timings(values, family))


def _taken(values: Mapping[str, int], remarks: Iterable[Remark]) -> dict[str, int]:
    taken = dict(values)
    for remark in remarks:
        if remark.standing in (TimingFault.INERT, TimingFault.NOT_ALLOWED):
            taken[remark.name] = remark.least_nck
    return taken


def _own_minima(values: Mapping[str, int], family: Family) -> list[Remark]:
    """What each value may not be by itself."""
    remarks = []
    for name, rule in RULES[family].items():
        value = values.get(name)
        if value is not None and value < rule.least_nck:
            text = f"the standard allows no fewer than {rule.least_nck} clocks at any rate"
            remarks.append(Remark(name, TimingFault.TOO_LOW, text, rule.least_nck))
    latency = values.get("t_cl_nck")
    if family is Family.DDR5 and latency is not None and latency % 2:
        text = "DDR5 knows only even read latencies: the next one is taken"
        remarks.append(Remark("t_cl_nck", TimingFault.NOT_ALLOWED, text, latency + 1))
    write = values.get("t_cwl_nck")
    if family is Family.DDR4 and write is not None and write not in DDR4_WRITE_LATENCIES_NCK:
        allowed = [least for least in DDR4_WRITE_LATENCIES_NCK if least >= write] or [DDR4_WRITE_LATENCIES_NCK[-1]]
        text = f"mode register 2 holds only {', '.join(map(str, DDR4_WRITE_LATENCIES_NCK))}: the next one is taken"
        remarks.append(Remark("t_cwl_nck", TimingFault.NOT_ALLOWED, text, allowed[0]))
    return remarks


def mended(values: Mapping[str, int], family: Family) -> dict[str, int]:
    """The sheet with every value raised to what the standard and the others ask of it."""
    rules = RULES[family]
    result = {name: max(value, rules[name].least_nck) if name in rules else value for name, value in values.items()}
    for remark in _own_minima(result, family):
        result[remark.name] = max(result[remark.name], remark.least_nck)
    for rule in MINIMA[family]:
        if rule.name in result and all(name in result for name in rule.needs):
            least = rule.least(result)
            result[rule.name] = least if rule.name == "t_cwl_nck" else max(result[rule.name], least)
    return result
