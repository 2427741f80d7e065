"""Loads on a simulated rig: told tick by tick as they pass, until they end or fail as the hazard draws."""

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from tenaz.benches.simulated.clock import Time
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import (
    LoadKind,
    LoadPlan,
    LoadProgress,
    LoadReport,
    Mismatch,
    Strains,
    WorkerProgress,
    part_covered,
)
from tenaz.core.ports.bench import LoadWatch
from tenaz.core.rigs.rig import Rig
from tenaz.core.sensors.part import check_warm
from tenaz.core.trials.facts import facts_by_lanes
from tenaz.simulated.firmware import as_setpoint
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.course import HeldAt, course_of
from tenaz.simulated.physics.failing import OF_CARDS, Failing, goes_down
from tenaz.simulated.physics.luck import luck_of
from tenaz.simulated.physics.memory import Column
from tenaz.simulated.physics.speed import Speed
from tenaz.simulated.physics.throughput import lap_s, rate_of
from tenaz.simulated.sensing import Sensing
from tenaz.simulated.state import State
from tenaz.simulated.wrong_values import FoundWrong, WrongValues

MOST_MISMATCHES = 200
"""A load that goes on past errors ends here; more tell no more."""
OPEN_END_S = 24 * 3600.0
"""How long a load without an end runs here before it counts as held."""
TURN_S = 5.0
"""Of a core, where cores take turns."""


class SimulatedLoads:
    """The part of the bench that runs loads."""

    def __init__(self, rig: Rig, state: State, time: Time, keep: Callable[[State], None]) -> None:
        self._rig, self._state, self._time, self._keep = rig, state, time, keep

    def check(self, plan: LoadPlan) -> None:
        """Refuse a load of no length, and any where no memory is fitted.

        Raises:
            Refused: a load that cannot run there.
        """
        if (plan.duration_s is not None and plan.duration_s <= 0) or (plan.laps is not None and plan.laps <= 0):
            raise Refused(f"{plan.show()} is no load; give a time above zero.")
        machine = Machine(self._rig, self._state)
        if plan.warm_c is not None:
            luck = luck_of(self._state, "load")
            check_warm(plan, self._rig.purpose, Sensing(machine, self._rig.sensors_watched, luck).sensors)
        if any(one.kind.declared.on_cards for one in (plan, *plan.beside)) and not machine.processor.card.fitted:
            raise Refused(
                f"{self._rig.name} has no graphics card that could be loaded: give the rig knobs of one "
                f"(tenaz rig {self._rig.name} --knobs graphics), or leave {plan.kind} out."
            )
        if any(one.cards and one.cards != (0,) for one in (plan, *plan.beside)):
            raise Refused(f"{self._rig.name} has one graphics card, card 0.")
        if not machine.seated:
            raise Refused(f"{self._rig.name} has no memory in any slot: fit a module, then begin.")

    def stop(self) -> None:
        """End what is under way."""
        self._time.stop()

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Run a load until it ends, or until it fails; past errors when it is to go on."""
        self._state.turns += 1
        self._keep(self._state)
        run = _Run(self._rig, self._state, plan, self._time, watch)
        report = run.to_its_end()
        run.leave()
        self._keep(self._state)
        return report


def _held(plan: LoadPlan) -> HeldAt | None:
    memory = plan.kind.strains is Strains.MEMORY
    return None if plan.warm_c is None else HeldAt(plan.warm_c, memory, bool(plan.beside))


class _Run:
    """One load under way."""

    def __init__(self, rig: Rig, state: State, plan: LoadPlan, time: Time, watch: LoadWatch) -> None:
        self._rig, self._state, self._plan, self._time, self._watch = rig, state, plan, time, watch
        self._machine = machine = Machine(rig, state)
        self._luck = luck = luck_of(state, "load")
        plans = (plan, *plan.beside)
        shares = tuple(one.share if one.kind.strains is Strains.MEMORY else None for one in plans)
        kinds = tuple(dict.fromkeys(kind for one in plans for kind in (one.kind, *one.counts_as)))
        self._strain = LoadMix(kinds, shares, plan.workers or 0, plan.cores, plan.step_hz is not None)
        values = machine.values(as_setpoint(state.in_force, rig.stock))
        frailty = machine.manners.frailty_folds * float(luck.standard_normal())
        speed = machine.speed(values, self._strain, np.array([55.0]))
        self._values = values
        self._rate = self._rate_of(plan.kind, speed) * (1.0 + k("noise") * float(luck.standard_normal()))
        self._lap_s = lap_s(plan, speed, machine.memory_bytes)
        if plan.kind.declared.on_cards:
            self._lap_s = machine.processor.card.lap_s(values, plan.kind, plan.share, plan.size_bytes)
        self._length_s = self._length(plan)
        self._course = course_of(machine, values, self._strain, self._length_s, frailty, _held(plan))
        self._failing = Failing(machine, self._course, luck)
        self._wrong = WrongValues(machine, luck)
        self._sensing = Sensing(machine, rig.sensors_watched, luck, kinds)
        self._found: tuple[Mismatch, ...] = ()
        self._elapsed_s = 0.0
        self._throttled = state.throttled

    def _rate_of(self, kind: LoadKind, speed: Speed) -> float:
        if kind.declared.on_cards:
            return self._machine.processor.card.rate(self._values, kind)
        return rate_of(kind, speed)

    def _length(self, plan: LoadPlan) -> float:
        if plan.duration_s is not None:
            return plan.duration_s
        return plan.laps * self._lap_s if plan.laps is not None else OPEN_END_S

    def to_its_end(self) -> LoadReport:
        """Until held, stopped, failed or gone."""
        self._watch.sensors(self._sensing.sensors)
        while len(self._found) < MOST_MISMATCHES:
            failure = self._failing.next()
            end_s = min(self._length_s, failure.at_s)
            if not self._pass(end_s, failure.recorded_at_s):
                return self._report(Outcome.ERRED if self._found else Outcome.STOPPED, "stopped by hand")
            if failure.column is None:
                break
            down = goes_down(failure, self._luck)
            if down is not None:
                return self._report(down, self._went_down(failure.column, down))
            self._err(self._wrong.burst(failure.column, self._now_found(failure.column)))
            if self._plan.stop_at_first_error:
                break
        return self._report(Outcome.ERRED if self._found else Outcome.HELD, "")

    def _pass(self, end_s: float, recorded_at_s: float) -> bool:
        """Let it run until a time; False when it was stopped before that."""
        course = self._course
        first, last = course.tick_at(self._elapsed_s), course.tick_at(end_s)
        for tick in range(first, last + 1):
            until_s = min(end_s, float(course.ends_s[tick]))
            if until_s <= self._elapsed_s and self._elapsed_s > 0:
                continue
            if not self._time.spend(until_s - self._elapsed_s):
                return False
            self._elapsed_s = until_s
            self._throttled += bool(course.throttled[tick])
            if recorded_at_s <= until_s:
                self._state.records += 1
                recorded_at_s = float("inf")
            self._watch.progress(self._progress(tick))
            self._watch.sample(self._sensing.sample(course, tick, until_s, self._throttled, self._state.records))
            if not self._time.spend(0.0):
                return False
        return True

    def _err(self, wrong: Sequence[Mismatch]) -> None:
        self._found += tuple(wrong)
        for one in wrong:
            self._watch.mismatch(one)
        self._watch.progress(self._progress(self._course.tick_at(self._elapsed_s)))

    def _went_down(self, column: Column, down: Outcome) -> str:
        """A card that goes away leaves its machine standing."""
        if column.weak not in OF_CARDS or not self._loads_of(column)[0].kind.declared.on_cards:
            return f"the rig {down} under load"
        again = "and answers again: its driver began anew" if down is Outcome.RESTARTED else "and does not answer"
        return f"card 0 was lost {again}"

    def _loads_of(self, column: Column) -> tuple[LoadPlan, ...]:
        """Those of the loads that show a weakness: a card's its own loads, where any runs, and no others."""
        every = (self._plan, *self._plan.beside)
        on_cards = tuple(one for one in every if one.kind.declared.on_cards == (column.weak in OF_CARDS))
        return on_cards or every

    def _now_found(self, column: Column) -> FoundWrong:
        tick = self._course.tick_at(self._elapsed_s)
        kinds = self._loads_of(column)
        one = kinds[int(self._luck.integers(len(kinds)))]
        return FoundWrong(
            one.kind, self._elapsed_s, 1 + int(self._elapsed_s / self._lap_s), self._workers(),
            self._sensing.warmth_c(one.kind, self._course, tick), one.share,
        )  # fmt: skip

    def _workers(self) -> int:
        if self._plan.kind.declared.on_cards:
            return 1
        if self._plan.kind.declared.one_worker:
            return 1
        return self._plan.workers or len(self._machine.processor.on) or 1

    # -- telling ----------------------------------------

    def _progress(self, tick: int) -> LoadProgress:
        plan, workers, elapsed = self._plan, self._workers(), self._elapsed_s
        laps = elapsed / self._lap_s
        fraction, left_s = plan.ahead(elapsed, laps)
        clock, cores = float(self._course.clock_mhz[tick]), self._machine.processor.on
        wrong = [0] * workers
        for one in self._found:
            wrong[one.worker % workers] += 1
        rate = self._rate * (1.0 - 0.02 * float(np.exp(-elapsed / 20.0)))
        kind, doing, share = plan.kind, plan.kind.value, rate / workers
        lanes = tuple(
            WorkerProgress(
                worker,
                cores[worker % len(cores)],
                laps,
                share,
                wrong[worker],
                elapsed,
                clock,
                doing,
                kind,
            )
            for worker in range(workers)
        )
        lanes = (*lanes, *self._card_lanes(len(lanes), elapsed))
        if kind.declared.on_cards:
            lanes = (replace(lanes[0], card=0, clock_mhz=self._card_mhz), *lanes[1:])
        hot = self._sensing.hottest_c(self._course, tick)
        return LoadProgress(plan, elapsed, fraction, left_s, laps, rate, len(self._found), lanes, hot)

    @property
    def _card_mhz(self) -> float:
        return self._machine.processor.card.clocks_mhz(self._values, busy=True)[0]

    def _card_lanes(self, first: int, elapsed_s: float) -> tuple[WorkerProgress, ...]:
        """Of the loads of the card that run beside."""
        card, found = self._machine.processor.card, []
        beside = [one for one in self._plan.beside if one.kind.declared.on_cards]
        for place, one in enumerate(beside):
            rate = card.rate(self._values, one.kind) / (len(beside) + self._plan.kind.declared.on_cards)
            laps = elapsed_s / card.lap_s(self._values, one.kind, one.share, one.size_bytes)
            wrong = sum(wrong.load is one.kind for wrong in self._found)
            found.append(
                WorkerProgress(
                    first + place, 0, laps, rate, wrong, elapsed_s, self._card_mhz, one.kind.value, one.kind, card=0
                )
            )
        return tuple(found)

    def _report(self, outcome: Outcome, detail: str) -> LoadReport:
        elapsed, plan, found = self._elapsed_s, self._plan, self._found
        went_down = elapsed if outcome.machine_went_down else None
        progress = self._progress(self._course.tick_at(elapsed))
        facts = facts_by_lanes(plan, elapsed, progress.lanes, self._rig.cores_known, self._rig.memory_bytes)
        begun = min(1.0, elapsed / (TURN_S * max(1, self._rig.cores_known)))
        first = found[0].at_s if found else went_down
        loads = tuple(
            replace(one, covered=part_covered(one.kind, progress.laps, begun), failed_after_s=first) for one in facts
        )
        return LoadReport(plan, outcome, elapsed, progress.laps, self._rate, len(found), first, found, detail, loads)

    def leave(self) -> None:
        """What the load leaves behind in the machine: warmth, wear, counts."""
        state, hours = self._state, self._elapsed_s / 3600
        tick = self._course.tick_at(self._elapsed_s)
        self._machine.keep_heat(self._course.heat_at(self._elapsed_s))
        state.load_h += hours
        strain = (float(self._course.core_mv[tick]) - 1300.0) / k("wear_fold")
        state.worn_mv += hours * k("wear_mv_per_kh") / 1000 * float(np.exp(min(strain, 3.0)))
        state.throttled = self._throttled
