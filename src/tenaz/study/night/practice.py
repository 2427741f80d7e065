"""The usual way, written down to compare a night with: each knob in turn, an hour a step, a fixed guard, a long proof.

The same knobs in the same order as a night has them, the same voltages raised beforehand. A step is one of the grid,
but at least a fiftieth of the value, of the interval of refresh a tenth. After the first failure, or where it may go no
further, the knob goes ``guard`` steps back from the last value that held. At the end the proof runs; when it fails
everything of that domain goes a step further back, and it begins anew.
"""

from dataclasses import dataclass

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.figures import REFRESH_CYCLE
from tenaz.core.loads.manners import Strains
from tenaz.search.night.ground import ALONE, LOWERED, OFFSET, RATE, RATIO, REFRESH, ROWS, NightGround
from tenaz.search.night.group_leg import in_group
from tenaz.search.night.moving import moved, raised, step_back
from tenaz.search.owing import planned
from tenaz.study.night.rigs import NightRig

STEP_H = 1.0
LEAST_STEP, LEAST_REFRESH_STEP = 0.02, 0.1
MOST_BACK = 12
PAYS = 0.002


@dataclass(frozen=True, slots=True)
class Practised:
    """Where it came to stand, and whether it was proven."""

    setpoint: Setpoint
    proven: bool


def usual_practice(rig: NightRig, night: NightGround, guard: int) -> Practised:
    """One rig, from stock to its proof."""
    return _Practice(rig, night, guard).run()


def halving_practice(rig: NightRig, night: NightGround, share: float) -> Practised:
    """The quick way, by somebody with experience: each knob's hardest value that holds for ten minutes, by bisection;
    then only a ``share`` of the way there, that was learnt on earlier machines; at the end the proof.
    """
    return _Halving(rig, night, share).run()


class _Practice:
    step_h = STEP_H

    def __init__(self, rig: NightRig, night: NightGround, guard: int) -> None:
        self._rig, self._night, self._guard = rig, night, guard

    def _kept(self, held: list[tuple[int, float]]) -> tuple[int, float]:
        """Of the ratios that held, each faster than the one before, the one to stand at."""
        return held[max(0, len(held) - 1 - self._guard)]

    def run(self) -> Practised:
        night = self._night
        stock = at = night.ground.base
        at = self._ratio(at)
        at = raised(self._night, at)
        for name in (RATE, *ROWS, *self._others(at), *REFRESH, REFRESH_CYCLE[1], *LOWERED, OFFSET):
            knob = night.knobs.get(name)
            if knob is not None and not knob.locked and isinstance(at[name], int):
                at = self._along(knob, at, at.number(name))
        return self._proven(at, stock)

    def _others(self, at: Setpoint) -> tuple[str, ...]:
        return tuple(k.name for k in self._night.ground.knobs if k.name not in ALONE and in_group(k, at))

    def _ratio(self, at: Setpoint) -> Setpoint:
        knob = self._night.knobs.get(RATIO)
        if knob is None or RATIO not in self._night.starts:
            return at
        start, end = self._night.starts[RATIO]
        load, held = planned(self._night.purpose, self._night.cores, self.step_h), list[tuple[int, float]]()
        before = self._rig.try_at(at, load).facts.loads[0].rate
        value, best = start, at
        while value <= end:
            seen = self._rig.try_at(at.replacing(RATIO, value), load)
            if seen.verdict is not Verdict.PASS:
                break
            rate = seen.facts.loads[0].rate
            if held and rate < held[-1][1] * (1 + PAYS):
                break
            held.append((value, rate))
            value += 1
        if held:
            kept = self._kept(held)
            best = at.replacing(RATIO, kept[0]) if kept[1] > before * (1 + PAYS) else at
        return best

    def _step(self, knob: Knob, value: int) -> int:
        part = LEAST_REFRESH_STEP if knob.name in REFRESH else LEAST_STEP
        return 1 if knob.unit == "mV" else max(1, round(part * value / knob.grid.spacing))

    def _along(self, knob: Knob, at: Setpoint, start: int) -> Setpoint:
        night = self._night
        kind = night.cores if knob.name == "core_offset_mv" else night.memory
        load, step = planned(night.purpose, kind, STEP_H), self._step(knob, start)
        limit, strain = knob.strain(night.limit(knob)), knob.strain(start)
        held = strain
        while held < limit:
            tried = min(limit, held + step)
            seen = self._rig.try_at(moved(night, at, knob.name, knob.at_strain(tried)), load)
            if seen.verdict is not Verdict.PASS:
                break
            held = tried
        return moved(night, at, knob.name, knob.at_strain(max(strain, held - self._guard * step)))

    def _proven(self, at: Setpoint, stock: Setpoint) -> Practised:
        night, backs = self._night, {Strains.CPU: 0, Strains.MEMORY: 0}
        for _ in range(MOST_BACK):
            failed = None
            for kind, hours in sorted(night.purpose.hours_asked, key=lambda one: one[1]):
                if self._rig.try_at(at, planned(night.purpose, kind, hours)).verdict is not Verdict.PASS:
                    failed = kind.strains
                    break
            if failed is None:
                return Practised(at, True)
            backs[failed] += 1
            easier = step_back(night, stock, at, failed, backs[failed])
            if easier is None:
                break
            at = easier
        return Practised(stock, False)


class _Halving(_Practice):
    step_h = 1 / 6

    def __init__(self, rig: NightRig, night: NightGround, share: float) -> None:
        super().__init__(rig, night, 0)
        self._share = share

    def _kept(self, held: list[tuple[int, float]]) -> tuple[int, float]:
        return held[int(self._share * (len(held) - 1))]

    def _along(self, knob: Knob, at: Setpoint, start: int) -> Setpoint:
        night = self._night
        kind = night.cores if knob.name == "core_offset_mv" else night.memory
        load = planned(night.purpose, kind, self.step_h)
        strain, end = knob.strain(start), knob.strain(night.limit(knob)) + 1
        held = strain
        while end - held > 1:
            tried = (held + end) // 2
            seen = self._rig.try_at(moved(night, at, knob.name, knob.at_strain(tried)), load)
            held, end = (tried, end) if seen.verdict is Verdict.PASS else (held, tried)
        return moved(night, at, knob.name, knob.at_strain(strain + int(self._share * (held - strain))))
