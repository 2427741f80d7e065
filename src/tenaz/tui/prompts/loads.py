"""What is asked for as a line of text, with what can be taken."""

from collections.abc import Sequence
from contextlib import suppress

from tenaz.core.base.errors import Refused
from tenaz.core.base.typed import parse_ran
from tenaz.core.knobs.knob import Knob, NeedsReason
from tenaz.core.knobs.setpoint import UNKNOWN, Setpoint
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadPlan, show_duration
from tenaz.core.ports.bench import HowLong
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.trade_line import EXAMPLE, is_trade_line, with_trade_line
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.trial import Trial
from tenaz.search.registry import all_strategies, strategy_of
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt


def dialled(text: str, knob: Knob, rig: Rig, setpoint: Setpoint) -> Setpoint:
    """The setpoint with what was typed: a value of the knob in hand, or a whole sheet in trade notation.

    Raises:
        Refused: neither, or a value that may not be set.
    """
    if is_trade_line(text) and not _is_value(knob, text):
        return may_be_dialled(with_trade_line(text, rig, setpoint), rig, setpoint)
    value = knob.parse(text)
    with suppress(NeedsReason):
        knob.check(value)
    return setpoint.replacing(knob.name, value)


def may_be_dialled(moved: Setpoint, rig: Rig, before: Setpoint) -> Setpoint:
    """What was dialled at once, as far as it may be set; reasons are asked for when the trial begins.

    Raises:
        Refused: a value that may not be, or one that is locked.
    """
    for change in moved.changes_from(before):
        with suppress(NeedsReason):
            rig.knob(change.knob).check(change.after)
    rig.check_locks(moved)
    return moved


def _is_value(knob: Knob, text: str) -> bool:
    try:
        knob.parse(text)
    except Refused:
        return False
    return True


def value_prompt(knob: Knob, rig: Rig, setpoint: Setpoint, typed: str) -> Prompt:
    """A value for a knob, or a whole sheet in a line; the reason for one above the advised ceiling, or off its grid, is
    asked for when the trial begins.
    """
    value = setpoint[knob.name]

    def check(text: str) -> None:
        dialled(text, knob, rig, setpoint)

    hint = f"{knob.grid.show()} {knob.unit}" + (" · auto leaves it to the firmware" if knob.may_be_auto else "")
    for name, ceiling in (("advised", knob.advised_ceiling), ("hard", knob.hard_ceiling)):
        if ceiling is not None:
            hint += f" · {name} ceiling {knob.show(ceiling)}"
    if knob.domain == "memory":
        hint += f"\nor memory in a line: {EXAMPLE}"
    return Prompt(f"{knob.label}, now {knob.show(value)}", hint, typed, check, select=not typed)


LOAD_HINT = (
    "like: march 30m 50%  ·  march ss blocks 2 laps  ·  transform L1-L3 1h  ·  retain wait 10m  ·  "
    "solo 10m beside checker 25%  ·  go on, until stopped, 2 workers, cores 0,2 · vram 80% card 0 · in step 1 Hz"
)


def load_prompt(plan: LoadPlan, picks: Sequence[Pick]) -> Prompt:
    """The load of the next trials, typed or picked."""
    return Prompt(
        f"load, now {plan.show()}",
        f"{LOAD_HINT}\nwhat is not said is as usual; begin with but to change the load as it is now, like: but 25%",
        "",
        lambda text: parse_load(text, plan),
        picks=picks,
    )


def past_prompt(climbs: Sequence[SearchPlan]) -> Prompt:
    """Which climb of before is looked at."""
    picks = [
        Pick(str(one.id), f"by {one.strategy} from {one.base[one.knob]}, {one.load.show()}", one.reason)
        for one in reversed(climbs)
    ]
    known = {str(one.id) for one in climbs}

    def check(text: str) -> None:
        if text.strip() and text.strip() not in known:
            raise Refused(f"{text.strip()!r} is none of its climbs; there are: {', '.join(sorted(known, key=int))}.")

    return Prompt("look at which climb? empty: the newest again", "", "", check, picks=picks)


def _climbs(text: str) -> None:
    kind = strategy_of(text.strip().lower())
    if not kind.climbs:
        raise Refused(f"{kind.name} is no climb: {kind.about}.")


def strategy_prompt(now: str) -> Prompt:
    """How the next climb searches."""
    climbing = [kind for kind in all_strategies().values() if kind.climbs]
    names = [kind.name for kind in climbing]
    picks = [Pick(kind.name, kind.about) for kind in climbing]
    return Prompt(
        f"how the next climb searches, now {now}",
        "",
        now,
        _climbs,
        picks=picks,
        at=names.index(now) if now in names else None,
    )


def typed_or_unknown(knob: Knob, text: str) -> int | None:
    """A value that was typed; None where it is not known to the technician either.

    Raises:
        Refused: neither a value of the knob nor ``unknown``.
    """
    if text.strip().lower() in ("", UNKNOWN):
        return None
    value = knob.parse(text)
    if not isinstance(value, int):
        raise Refused(f"type the number that stands there now, or {UNKNOWN}.")
    knob.check_past(value)
    return value


def unknown_prompt(knob: Knob) -> Prompt:
    """What a value stands at that nothing here can read."""
    return Prompt(
        f"{knob.label}: nothing here can read it. What does it stand at now?",
        f"as the firmware's setup shows it, in {knob.unit}; it goes into the book as the rig's stock. Left empty, it "
        f"stays unknown",
        "",
        lambda text: typed_or_unknown(knob, text),
    )


def how_long_prompt(question: HowLong) -> Prompt:
    """How long a load by hand really ran."""
    hint = (
        "like: 45s, 30m, 8h, 12m 3 errors, 2h 84C 412W, 40m 0x124 · what the screen of the rig said counts, not when "
        "you came back"
    )

    def check(text: str) -> None:
        if parse_ran(text)[0] == 0 and not question.may_be_none:
            raise Refused("nothing can have held for no time at all; type how long it ran, or leave with Escape.")

    return Prompt(question.prompt, hint, show_duration(question.suggested_s), check, read_first=True)


def reason_prompt(rig: Rig, setpoint: Setpoint, why: NeedsReason) -> Prompt:
    """Why a value goes above its advised ceiling."""
    return Prompt(
        str(why), "the reason goes into the book with the trial", "", lambda reason: rig.check(setpoint, reason)
    )


def note_prompt(trial: Trial) -> Prompt:
    """A note on a trial."""
    hint = "probably loose · at its floor · follow up …"
    return Prompt(f"note on trial {trial.number}", hint, trial.note, lambda _: None, select=False)


def filter_prompt(text: str) -> Prompt:
    """Which log lines and sensors are shown."""
    return Prompt(
        "show only what holds", "part of a sensor's name or of a log line; empty shows all", text, lambda _: None
    )
