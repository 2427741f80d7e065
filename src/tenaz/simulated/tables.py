"""The model's tables in Markdown, as they stand in docs/simulated-rig.md."""

from tenaz.simulated.physics.constants import TABLE
from tenaz.simulated.physics.effects import EFFECTS
from tenaz.simulated.physics.feeling import FEELING, GROUPS, LOADS


def constants_table() -> str:
    """Every constant with unit, reason and source."""
    rows = [f"| {name} | {one.value:g} | {one.unit} | {one.reason} | {one.source} |" for name, one in TABLE.items()]
    return "\n".join(("| constant | value | unit | reason | source |", "|---|---:|---|---|---|", *rows))


def without_effect_table() -> str:
    """The knobs that truly do nothing on a rig."""
    rows = [f"| {rig} | {knob} | {why} |" for (rig, knob), why in EFFECTS.items()]
    return "\n".join(("| rig | knob | why it does nothing there |", "|---|---|---|", *rows))


def feeling_table() -> str:
    """What each load feels of each weakness."""
    head = f"| weakness | {' | '.join(LOADS)} |"
    rows = []
    for column, group in enumerate(GROUPS):
        felt = [float(2.718281828459045 ** FEELING[row, column]) for row in range(len(LOADS))]
        rows.append(f"| {group} | {' | '.join(f'{one:.2g}' if one > 1e-6 else '·' for one in felt)} |")
    return "\n".join((head, "|---" * (len(LOADS) + 1) + "|", *rows))
