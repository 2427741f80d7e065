"""Work aboard the stick: which rig this machine is, and the standing order followed step by step, restarts and all."""

import sqlite3
from contextlib import suppress
from dataclasses import dataclass, replace
from pathlib import Path

from tenaz.aboard import medium
from tenaz.aboard.ending import Ending, ending
from tenaz.aboard.leaving_word import leave_word
from tenaz.aboard.standing import StandingOrder, read_standing, write_standing
from tenaz.advice.alone import RecordUnseen, RunLoad, Situation, StartAnew, TakeUpTrial, Wait, decide
from tenaz.advice.alone_words import in_words, rung_in_words
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.outcomes import Verdict
from tenaz.core.machine.kept_free import Which, ranges_for
from tenaz.core.machine.physical_memory import Spans
from tenaz.core.machine.recognising import free_name, same_machine
from tenaz.core.parts.fitting import Fitting, as_seen, name_of
from tenaz.core.parts.isolation import Isolation, Seen, ladder
from tenaz.core.parts.works import SEEN_AT_START, fitting_at, parse_label
from tenaz.core.ports.events import StandingPaused
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.trial import Trial
from tenaz.engine import recovery
from tenaz.orders import ClimbLadder, FollowStanding, LeaveMachine, SetKeyboard, StandBy, StartRoutine, TakeUp
from tenaz.papers.stick_report import StickReport
from tenaz.pictures.memory.build import memory_picture
from tenaz.probe import memory_map, system
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.records.recording import Recording
from tenaz.workshop.rigs.parts import Parts
from tenaz.workshop.runs.running import Running

REASON = "standing order of the stick"
FILE = "standing.json"
LOW_BYTES = 16 << 20
"""A range that begins so low is the lower one."""


@dataclass(frozen=True, slots=True)
class AboardView:
    """What there is to be seen of the stick: its standing order, what would come next, what this start keeps free
    of the kernel; ``lockdown``: it was started under Secure Boot; ``ladder``: modules are tried one after the other;
    ``trouble``: what is wrong with the stick itself; ``takes_up``: what comes is a trial that somebody began;
    ``ended``: what came of the order; ``keyboards``: the layouts that there are, the one in use first.
    """

    standing: StandingOrder
    coming: str
    kept_free: Spans
    lockdown: bool
    ladder: Isolation | None = None
    trouble: str = ""
    takes_up: bool = False
    ended: Ending | None = None
    keyboards: tuple[str, ...] = ()


class Aboard:
    """Follows the standing order, which lies beside the book."""

    def __init__(self, at_work: AtWork, running: Running, recording: Recording, parts: Parts) -> None:
        self._at = at_work
        self._running = running
        self._recording = recording
        self._parts = parts
        self.restarts = False
        """Whether the machine is about to be restarted, as was asked for."""

    # -- the machine ----------------------------------------

    def choose_machine(self) -> None:
        """Work on the rig that this machine is; a machine that was never seen becomes one, as far as it can be read."""
        from tenaz.intake.new_rigs import this_machine  # noqa: PLC0415 - catalogues are read where they are needed

        fresh = this_machine()
        store = self._at.store
        rigs = [rig for rig in store.rigs.all() if BenchKind.HERE in rig.benches]
        known = next((rig for rig in rigs if same_machine(rig.machine, fresh.machine)), None)
        if known is None:
            untouched = next((rig for rig in rigs if rig.machine is None or not store.trials.count(rig.name)), None)
            known = replace(fresh, name=untouched.name if untouched else free_name(store.rigs.names(), fresh.name))
            store.rigs.put(known)
        self._at.rig, self._at.bench = known, BenchKind.HERE
        self._see_parts(fresh)
        medium.came_up()

    def _see_parts(self, fresh: Rig) -> None:
        """What the firmware tells is fitted now: other modules than before are work on the parts, written down."""
        machine = fresh.machine
        now = as_seen(self._parts.now(), machine.modules) if machine else None
        if now is None:
            return
        told = f"fitted at this start: {_seats(now)}"
        self._parts.saw(now, SEEN_AT_START, told)
        self._at.put(replace(now.into(self._at.rig), parts=fresh.parts, memory_bytes=fresh.memory_bytes))
        self._at.log("parts", told)

    # -- the ladder ----------------------------------------

    def ladder(self) -> Isolation:
        """Modules one after the other, as far as the book shows it."""
        works = self._parts.works()
        first = self._parts.first(works)
        seen = [
            Seen(fitting_at(works, trial.number, first), trial.outcome.verdict is Verdict.FAIL, trial.clean_s)
            for trial in self._at.trials.trials
            if trial.outcome is not None and trial.outcome.verdict is not Verdict.VOID
        ]
        return ladder((first, *(one.fitting for one in works[1:])), seen)

    @carries_out(ClimbLadder)
    def climb_ladder(self, _: ClimbLadder) -> None:
        """From now on modules are tried one after the other: every start tries what is fitted then, this one too.

        Raises:
            Refused: the firmware does not tell of two modules.
        """
        if not self._parts.now().told:
            raise Refused(
                "The ladder needs modules, and the firmware of this machine tells of none. Type what sits where into "
                "the rig's form (w, then e)."
            )
        self.stand_by(StandBy(replace(self.standing, ladder=True, by_turns=False, starts=1)))
        self.follow()

    def _label_parts(self) -> None:
        """What the ladder has shown of a part is its label, where it has no other already."""
        if not self.standing.ladder:
            return
        store, rig = self._at.store, self._at.rig.name
        for one in self.ladder().verdicts:
            label = parse_label(one.label)
            known = {known.part: known.state for known in store.works.labels(rig)}
            if known.get(label.part) is None:
                store.works.label(rig, label, self._at.clock)
                self._at.log("parts", label.show())

    def _on_ladder(self, standing: StandingOrder) -> StandingOrder:
        """Other modules than before are another rung: its loads begin anew."""
        key = _seats(self._parts.now())
        if not standing.ladder or standing.fitting == key:
            return standing
        return replace(standing, fitting=key, at=0, starts_done=0, failures=0, ended="")

    # -- the standing order ----------------------------------------

    @property
    def _file(self) -> Path:
        return Path(self._at.store.place).parent / FILE

    @property
    def standing(self) -> StandingOrder:
        """As it is now."""
        kept, name = read_standing(self._file), self._at.rig.name
        if kept is None:
            return StandingOrder(rig=name)
        # In another machine the same order begins anew.
        return kept if kept.rig == name else self._fresh(kept)

    @carries_out(StandBy)
    def stand_by(self, order: StandBy) -> str:
        """Take another standing order; it begins anew.

        Raises:
            Refused: its loads are none.
        """
        self._at.refuse_while("change the standing order")
        order.standing.check()
        fresh = self._fresh(order.standing)
        write_standing(self._file, fresh)
        return f"standing order: {fresh.show()}"

    def _fresh(self, standing: StandingOrder) -> StandingOrder:
        """The same order for this machine, from its beginning; earlier trials have nothing to do with it."""
        newest = self._at.store.trials.newest_of(self._at.rig.name)
        return StandingOrder(
            standing.routine,
            standing.by_turns,
            standing.starts,
            standing.after,
            standing.most_failures,
            standing.ladder,
            rig=self._at.rig.name,
            judged=newest.number if newest else 0,
            since=newest.number if newest else 0,
        )

    @carries_out(FollowStanding)
    def told_to_follow(self, _: FollowStanding) -> None:
        """As ordered."""
        self.follow()

    def follow(self) -> None:
        """Do what comes next: a load runs, or the machine restarts, or it is said that nothing does."""
        self._at.refuse_while("follow the standing order")
        self.leave_word()
        while True:
            coming, standing = decide(self._on_ladder(self.standing), self._situation())
            write_standing(self._file, standing)
            match coming:
                case RecordUnseen(trial=trial, outcome=outcome):
                    self._recording.unseen(trial, outcome)
                case TakeUpTrial(trial=trial):
                    self._running.take_up(TakeUp(trial.id), nobody=True)
                    return
                case RunLoad(plan=plan):
                    self._running.start_routine(StartRoutine(self._at.in_force(), (plan,), REASON), nobody=True)
                    return
                case StartAnew(which=which):
                    if self._start_anew(which, standing):
                        return
                case Wait(why=why):
                    told = f"the standing order has ended: {why}"
                    self._at.log("stick", told)
                    self._label_parts()
                    self.leave_word()
                    self._at.publish(StandingPaused(told))
                    return

    def ended(self) -> Ending | None:
        """What came of the standing order, where it has ended."""
        at, standing = self._at, self.standing
        if not standing.ended:
            return None
        coverage = memory_picture(at.store, at.rig).coverage
        reached = coverage.share if coverage is not None and coverage.fitted_bytes else None
        return ending(at.rig.name, standing, at.trials.trials, reached, REASON, f"{at.clock.utc():%Y-%m-%d}")

    def leave_word(self) -> None:
        """Write the report, and a copy of the book, where any system reads them; what goes wrong is only logged."""
        at, rig = self._at, self._at.rig
        trials = at.trials.trials
        wrong = at.store.load.mismatches_of_all([trial.id for trial in trials])
        report = StickReport(
            rig,
            trials,
            tuple(one for trial in trials for one in wrong.get(trial.id, ())),
            memory_picture(at.store, rig),
            self.standing.show(),
            self._at.clock.utc(),
            self.ended(),
        )
        try:
            told = leave_word(report.text(), report.html(), Path(at.store.place))
        except (TenazError, OSError, sqlite3.Error) as error:
            told = f"the report could not be written: {error}"
        if told:
            at.log("stick", told)

    @carries_out(SetKeyboard)
    def set_keyboard(self, order: SetKeyboard) -> str:
        """Another layout of the keyboard, now and at every start from this stick.

        Raises:
            Refused: there is none of that name.
        """
        medium.set_keyboard(order.layout)
        return f"keyboard: {order.layout}"

    @carries_out(LeaveMachine)
    def leave(self, order: LeaveMachine) -> str:
        """Have the machine restarted, or switched off, once Tenaz has ended."""
        return self.restart() if order.restart else self.switch_off()

    def restart(self) -> str:
        """Restart as things are: what is typed into the firmware then is in force when it comes back."""
        self.leave_word()
        medium.leave_for("restart")
        self.restarts = True
        return "restarting"

    def switch_off(self) -> str:
        """Switch the machine off. Who does that may take modules out: the next start keeps nothing free."""
        self.leave_word()
        with suppress(TenazError):
            medium.tell_next_start(())
        write_standing(self._file, replace(self.standing, which=Which.NOTHING))
        medium.leave_for("off")
        return "switching off"

    def look(self) -> AboardView:
        """What there is to be seen."""
        standing = self._on_ladder(self.standing)
        coming, _ = decide(standing, self._situation())
        kept = tuple(one.span for one in memory_map.kept_free())
        rungs = self.ladder() if standing.ladder else None
        words = in_words(coming)
        if rungs is not None and isinstance(coming, Wait):
            words = f"nothing: {rung_in_words(rungs)}"
        return AboardView(
            standing,
            words,
            kept,
            memory_map.lockdown(),
            rungs,
            medium.trouble(),
            isinstance(coming, TakeUpTrial),
            self.ended() if isinstance(coming, Wait) else None,
            medium.keyboards(),
        )

    def _start_anew(self, which: Which, standing: StandingOrder) -> bool:
        """Restart with another range kept free; False where there can be none, and every start is as usual then."""
        try:
            ranges = ranges_for(memory_map.firmware_memory(), len(system.usable_cores()), which)
            medium.tell_next_start(ranges)
        except TenazError as error:
            write_standing(self._file, replace(standing, by_turns=False, which=Which.NOTHING))
            self._at.log("stick", f"every start is as usual: {error}")
            return False
        told = " and ".join(span.show() for span in ranges)
        self._at.log("stick", f"restarting with the {which} range kept from the kernel: {told}")
        medium.leave_for("restart")
        self._at.publish(StandingPaused(f"restarting with the {which} range kept free", leaves=True))
        return True

    def _which(self) -> Which:
        """Which range this start really keeps free."""
        kept = memory_map.kept_free()
        if not kept:
            return Which.NOTHING
        return Which.LOWER if kept[0].span.start <= LOW_BYTES else Which.UPPER

    def _situation(self) -> Situation:
        unfinished = self._at.newest_unfinished()
        which, standing = self._which(), self.standing
        # A start that was to keep a range free and does not was not tried again: it had not come up.
        refused = standing.which is not Which.NOTHING and which is Which.NOTHING
        return Situation(
            unfinished,
            unfinished is not None and recovery.can_be_taken_up(unfinished) and unfinished.reason != REASON,
            unfinished is not None and recovery.stayed_up(unfinished, self._at.clock.boot_id()),
            self._newest_of_order(),
            bool(memory_map.firmware_memory()) and not refused,
        )

    def _newest_of_order(self) -> Trial | None:
        mine = (trial for trial in reversed(self._at.trials.trials) if trial.reason == REASON and not trial.open)
        return next(mine, None)


def _seats(fitting: Fitting) -> str:
    """Which module sits where."""
    return ", ".join(f"{name_of(one)} in {one.slot}" for one in fitting.fitted)
