"""A trial that was never judged: what is known about its end, what to ask, and how the answer is recorded."""

from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.plan import show_duration
from tenaz.core.ports.bench import Choice, Clock, HowLong, Journal, Question, Ran, StationReport
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.facts import LoadFacts, facts_by_lanes, read_off
from tenaz.core.trials.record_text import TIMELESS
from tenaz.core.trials.trial import Trial
from tenaz.engine.runner import BY_TECHNICIAN

AFTERWARDS, UNSEEN = "as explained afterwards", "nobody saw it"
TAKE_UP = Move.ENTERED
"""The answer that means: go on with it where it stands."""


def story(trial: Trial, boot_id: str) -> tuple[str, ...]:
    """What the book tells of an unfinished trial, in lines; ``boot_id`` is this boot of the operating system."""
    what = f"Trial {trial.number} on {trial.rig} ({trial.bench}) was under way: {trial.plan.show()}."
    if trial.station is Station.JUDGE:
        return (f"Trial {trial.number} on {trial.rig} has no record.", _ran(trial))
    lines = [what]
    same_boot = stayed_up(trial, boot_id)
    if trial.station is Station.LOAD:
        lines.append(_ran(trial))
    else:
        lines.append(f"It stood at station {trial.station}; nothing had been loaded yet.")
    if trial.bench.traits.outlives_us:
        lines.append(
            "Its load runs where the rig is, with or without us: going on joins it, or tells what became of it"
        )
    elif trial.bench.traits.restarts_us:
        if same_boot:
            lines.append("This machine has stayed up since: it was Tenaz that broke off, not the machine.")
        elif trial.station in (Station.SET, Station.BOOT):
            lines.append("This machine has been restarted since, as its sheet asked.")
        else:
            lines.append("This machine has been restarted since.")
    elif same_boot:
        lines.append("This computer has stayed up since: the trial was broken off.")
    else:
        lines.append("This computer, too, has been restarted since.")
    return tuple(lines)


def _ran(trial: Trial) -> str:
    if trial.heartbeat is None:
        if trial.elapsed_s:
            return f"It had run {show_duration(trial.elapsed_s)} under load."
        return "No heartbeat of a load was kept: it had run less than a second, if at all."
    seen = trial.heartbeat.at_utc.strftime("%H:%M:%S UTC on %d %b %Y")
    return f"It had run {show_duration(trial.heartbeat.elapsed_s)} under load by its last heartbeat, at {seen}."


def stayed_up(trial: Trial, boot_id: str) -> bool:
    """Whether the computer that Tenaz runs on has stayed up since a trial's last sign of life; ``boot_id`` is now's.

    A simulated machine, or one across a wire, has boots of its own, which say nothing about this computer's.
    """
    elsewhere = trial.bench.traits.simulated or trial.bench.traits.outlives_us
    known = trial.boot_id if trial.heartbeat is None or elsewhere else trial.heartbeat.boot_id
    return known == boot_id


def restarted_while_set(trial: Trial, boot_id: str) -> bool:
    """Whether the machine under load was restarted while its sheet was being typed in: it is then entered."""
    return trial.bench.traits.restarts_us and trial.station is Station.SET and not stayed_up(trial, boot_id)


def can_be_taken_up(trial: Trial) -> bool:
    """Whether the trial can go on where it stands: no load had begun, and the rig is real and still as it was; or its
    load runs on without us.
    """
    if trial.bench.traits.outlives_us and trial.station is Station.LOAD:
        return True
    return trial.bench.traits.needs_hands and trial.station in (Station.SET, Station.BOOT, Station.CONFIRM)


def asking(trial: Trial, boot_id: str) -> Question:
    """The question about an unfinished trial."""
    choices = [
        Choice("f", "froze", Outcome.FROZE),
        Choice("r", "restarted", Outcome.RESTARTED),
        Choice("c", "stop code", Outcome.STOP_CODE),
        Choice("z", "stopped by hand", Outcome.STOPPED),
    ]
    if can_be_taken_up(trial):
        choices.insert(0, Choice("g", "go on with it", TAKE_UP))
        choices.append(Choice("n", "did not come up", Outcome.NO_BOOT))
    if trial.station is Station.JUDGE:
        choices += [
            Choice("h", "held", Outcome.HELD),
            Choice("e", "errors", Outcome.ERRED),
            Choice("o", "too hot", Outcome.TOO_HOT),
            Choice("p", "picture faults", Outcome.PICTURE),
            Choice("n", "did not come up", Outcome.NO_BOOT),
        ]
    choices.append(Choice("l", "do not know", Outcome.LOST))
    return Question(trial.station, "What was seen?", tuple(choices), story(trial, boot_id))


def explain(
    trial: Trial,
    outcome: Outcome,
    journal: Journal,
    clock: Clock,
    elapsed_s: float | None = None,
    rig: Rig | None = None,
    told: Ran | None = None,
    seen_by: str = BY_TECHNICIAN,
    detail: str = AFTERWARDS,
) -> Trial:
    """Record what the technician saw of an unfinished trial; without a time, that of its last heartbeat. ``told`` is
    what else was said: errors, a stop code, how hot it was.

    Raises:
        Refused: held, without any time under load: that is nothing to have held.
    """
    ran_s = trial.elapsed_s if elapsed_s is None else elapsed_s
    if outcome is Outcome.HELD and ran_s <= 0:
        raise Refused(
            f"Trial {trial.number} cannot have held: no time under load is known of it. Say how long it ran, or what "
            f"else was seen."
        )
    if trial.station is not Station.JUDGE:
        down = outcome.machine_went_down
        move = Move.MACHINE_WENT_DOWN if down else Move.STOP
        trial = journal.trials.move(trial, StationReport(move, f"{detail}: {outcome}"), clock)
    failed = outcome.verdict is Verdict.FAIL
    ran_s = 0.0 if outcome is Outcome.NO_BOOT else ran_s
    cores, memory_bytes = (rig.cores_known, rig.memory_bytes) if rig else (0, None)
    by_hand = not trial.bench.traits.watches_load
    loads = facts_by_lanes(trial.plan, ran_s, journal.load.lanes_of(trial.id), cores, memory_bytes, by_hand)
    trial = journal.trials.record(
        trial,
        outcome,
        seen_by,
        clock,
        ran_s,
        ran_s if failed else None,
        told.errors if told is not None and told.errors is not None else int(outcome is Outcome.ERRED),
        told.with_code(detail) if told is not None else detail,
        LoadFacts(
            loads if ran_s else (),
            (read_off(told.hottest_c, told.wall_w) if told else ()),
            room_c=rig.room_c if rig else None,
        ),
    )
    journal.log.write(
        trial.rig,
        trial.id,
        "loop",
        f"trial {trial.number}: {outcome} ({trial.verdict.words}), {detail}",
        clock,
    )
    return trial


def asks_how_long(trial: Trial, outcome: Outcome) -> HowLong | None:
    """The time of a load by hand is the technician's word, so a record made anew asks for it again."""
    if trial.bench.traits.watches_load or trial.station is not Station.JUDGE or outcome in TIMELESS:
        return None
    return HowLong(f"{outcome}: how long did {trial.plan.kind} run?", trial.elapsed_s, outcome is not Outcome.HELD)


def restarted_with_sheet() -> StationReport:
    """The move of a trial on this machine whose restart was the entering of its sheet."""
    return StationReport(Move.ENTERED, "this machine was restarted since")
