"""A whole sheet of timings carried to another data rate, at equal nanoseconds."""

from collections.abc import Mapping

from tenaz.core.knobs.timings.clocks import Family, MemoryClock, Rounding, carried_clocks
from tenaz.core.knobs.timings.minima import mended
from tenaz.core.knobs.timings.rules import RULES, Scaling


def carry(
    values: Mapping[str, int], family: Family, from_mts: int, to_mts: int, rounding: Rounding = Rounding.CAUTIOUS
) -> dict[str, int]:
    """Timings (clocks by name) at another data rate; names that are no timings stay as they are.

    Times are kept and rounded, counts stay, and what depends on others is raised to its minimum. To the same rate
    nothing is changed.
    """
    if from_mts == to_mts:
        return dict(values)
    before, after, rules = MemoryClock.of(from_mts, family), MemoryClock.of(to_mts, family), RULES[family]
    carried = dict(values)
    for name, value in values.items():
        rule = rules.get(name)
        if rule is None or rule.stays(value):
            continue
        if rule.scaling is Scaling.LONGEST:
            carried[name] = value * after.thirds_mts // before.thirds_mts
        else:
            carried[name] = max(rule.least_nck, carried_clocks(value, before, after, family, rounding))
    return mended(carried, family)
