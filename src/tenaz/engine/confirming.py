"""Confirm: what is in force is compared with what was asked, and only what is really in force counts."""

from collections.abc import Sequence
from dataclasses import replace

from tenaz.core.base.loop import Move, Station
from tenaz.core.knobs.readings import Reading, Source, show_sources, sources_of
from tenaz.core.ports.asking import asked
from tenaz.core.ports.bench import Choice, Question, StationReport, Technician
from tenaz.core.trials.trial import Trial

MOST_ROUNDS = 3
"""A value that reads otherwise so many times in a trial will do so the next time too: the firmware rounds it."""

Confirmed = tuple[StationReport, tuple[Reading, ...]]


def confirm(
    readings: tuple[Reading, ...],
    technician: Technician | None,
    earlier: Sequence[tuple[Reading, ...]] = (),
    looks: bool = False,
) -> Confirmed:
    """What the readings come to. Without a technician a difference ends the trial: it must not count for a setpoint
    that it does not run at. ``earlier`` is what was read before in the same trial; with ``looks`` the technician is
    asked about what cannot be read here.
    """
    differing = [reading for reading in readings if not reading.agrees]
    if technician is None:
        if differing:
            return StationReport(Move.STOP, "not as asked: " + _in_words(differing)), readings
        return StationReport(Move.CONFIRMED, show_sources(sources_of(readings))), readings
    for reading in differing:
        rounds = 1 + sum(_same(reading, one) for before in earlier for one in before)
        if rounds >= MOST_ROUNDS:
            told = f"{reading.differs_in_words}, for the {rounds}rd time: the firmware rounds it"
            return StationReport(Move.STOP, f"not as asked: {told}"), readings
        report = asked(technician, differs(reading))
        if report.move is not Move.CONFIRMED:
            return report, readings
    if not looks or _looked(readings):
        return StationReport(Move.CONFIRMED, _agreed(differing, readings)), readings
    report = asked(technician, looking(readings))
    if report.move is Move.CONFIRMED:
        readings = tuple(
            replace(one, source=Source.ACCEPTED) if one.source is Source.ASSUMED and one.knob else one
            for one in readings
        )
        report = replace(report, detail=_agreed(differing, readings))
    return report, readings


def _looked(readings: Sequence[Reading]) -> bool:
    """Whether the technician said already that what cannot be read here stands as asked."""
    unread = [one for one in readings if one.read is None and one.knob]
    return bool(unread) and all(one.source is Source.ACCEPTED for one in unread)


def known_as_before(readings: Sequence[Reading], before: Trial) -> tuple[Reading, ...]:
    """Readings of a rig that stands as it did in a trial before: what somebody accepted then is still so."""
    return tuple(
        replace(one, source=Source.ACCEPTED)
        if one.source is Source.ASSUMED and one.knob and before.source_of(one.knob) is Source.ACCEPTED
        else one
        for one in readings
    )


def _agreed(differing: Sequence[Reading], readings: Sequence[Reading]) -> str:
    told = show_sources(sources_of(readings))
    return f"accepted as it is: {_in_words(differing)}; {told}" if differing else told


def _in_words(differing: Sequence[Reading]) -> str:
    return ", ".join(one.differs_in_words for one in differing)


def _same(reading: Reading, other: Reading) -> bool:
    return (reading.name, reading.asked, reading.read) == (other.name, other.asked, other.read)


def differs(reading: Reading) -> Question:
    """One value that reads otherwise: accepted as it is, or sent back to set."""
    return Question(
        Station.CONFIRM,
        f"{reading.name} was to be {reading.asked}, but reads {reading.read}. Accept it as it is?",
        (
            Choice("y", "accept it, the trial counts for what it reads", Move.CONFIRMED),
            Choice("d", "back to set", Move.DIFFERS),
        ),
    )


def looking(readings: Sequence[Reading]) -> Question:
    """What the technician is to look at, because nothing here can read it."""
    unread = [one for one in readings if one.read is None]
    nothing = "" if len(unread) == len(readings) else "   cannot be read here"
    lines = tuple(
        f"{' ' if one.agrees else '≠'} {one.name:<12} {one.asked:>10}"
        + (nothing if one.read is None else f"   reads {one.read}")
        for one in readings
    )
    if not unread:
        prompt = "Everything was read back. Load it?"
    elif len(unread) == len(readings):
        prompt = "Do these values read back as asked?"
    else:
        prompt = "Do the values that cannot be read here stand as asked?"
    return Question(
        Station.CONFIRM,
        prompt,
        (Choice("y", "confirmed", Move.CONFIRMED), Choice("d", "differs, back to set", Move.DIFFERS)),
        lines,
    )
