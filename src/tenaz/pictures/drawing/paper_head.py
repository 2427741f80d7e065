"""What stands on every picture that goes to paper: whose it is, of when, at which values, and what was shown there."""

from dataclasses import dataclass
from datetime import datetime

from tenaz.core.evidence.shown import Evidence, evidence_at
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.stands import Stands
from tenaz.press.leaf import Block, Leaf, Table

MOST_VALUES = 8
"""More that differ from stock are counted only."""


SIMULATED = "SIMULATED RIG, says nothing of a real one"


@dataclass(frozen=True, slots=True)
class PaperHead:
    """Title, rig and date in one line; values in force, and hours shown at them, in one line each."""

    title: str
    rig: str
    at_utc: datetime
    in_force: str
    shown: str
    simulated: bool = False

    @property
    def date(self) -> str:
        """When it was drawn."""
        return f"{self.at_utc:%Y-%m-%d %H:%M} UTC"

    @property
    def lines(self) -> tuple[str, str, str]:
        """As they stand on the paper."""
        told = f"{SIMULATED} · " if self.simulated else ""
        return (
            f"{told}{self.rig}: {self.title} · {self.date}",
            f"set: {self.in_force}",
            f"tested there: {self.shown}",
        )


def headed_leaf(head: PaperHead, blocks: tuple[Block, ...], title: str = "", across: bool = True) -> Leaf:
    """A leaf under this head."""
    told = Table("", (), (("set", head.in_force), ("tested there", head.shown)), (1.0, 8.0), wide=True)
    return Leaf(
        title=title or f"{head.rig}: {head.title}",
        dated=head.date,
        at_utc=head.at_utc,
        blocks=(told, *blocks),
        note=SIMULATED if head.simulated else "",
        subject=f"{head.title} of {head.rig}",
        across=across,
    )


def head_at(title: str, stands: Stands, at_utc: datetime, setpoint: Setpoint | None = None) -> PaperHead:
    """The head of a picture at what is in force, or at another setpoint that it shows."""
    at = setpoint or stands.in_force
    shown = evidence_at(at, stands.index, stands.rig)
    return paper_head(title, stands.rig, at, shown, at_utc, not stands.bench.real)


def paper_head(
    title: str, rig: Rig, in_force: Setpoint, evidence: Evidence, at_utc: datetime, simulated: bool = False
) -> PaperHead:
    """The head of a picture of a rig."""
    knobs = {knob.name: knob for knob in rig.knobs}
    rate = [name for name in (DATA_RATE,) if name in knobs]
    apart = [one.knob for one in in_force.changes_from(rig.stock) if one.knob in knobs and one.knob not in rate]
    named = [f"{knobs[name].label} {knobs[name].show(in_force[name])}" for name in (*rate, *apart)[:MOST_VALUES]]
    left = len(rate) + len(apart) - len(named)
    rest = f"{left} more off stock" if left else f"the other {len(rig.knobs) - len(named)} at stock"
    hours = [
        f"{kind.kind} {kind.hours:.1f} h" + (f", {kind.failed} failed" if kind.failed else "")
        for kind in evidence.kinds
        if kind.hours or kind.failed
    ]
    return PaperHead(
        title,
        rig.name,
        at_utc,
        ", ".join([*named, rest]),
        "; ".join(hours) or "nothing yet",
        simulated,
    )
