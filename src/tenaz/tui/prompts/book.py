"""What is asked for at the book: what to look for, how a trial really ended, trials made elsewhere, which rig."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

from tenaz.catalogues.outside import typed_path
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint, Value
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.querying import EXAMPLES, parse_query
from tenaz.core.trials.record_text import EXAMPLES as RECORDS
from tenaz.core.trials.record_text import SeenRecord, parse_record, record_of
from tenaz.core.trials.trial import Trial
from tenaz.papers.paper_lists import EXAMPLE, moved_values, trial_of_line
from tenaz.papers.trial_files import LIST_ENDINGS, Reading, read_trials
from tenaz.pictures.book.trial import ended_words
from tenaz.pictures.drawing.marks import Role
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt

if TYPE_CHECKING:
    from tenaz.core.rigs.rig_line import RigLine


def query_prompt(now: str) -> Prompt:
    """What to look for in the book."""
    return Prompt(
        "look in the book for",
        f"like: {EXAMPLES}\nwords must all hold; all looks at every rig; an empty line shows everything",
        now,
        parse_query,
    )


def corrected(text: str, rig: Rig, trial: Trial) -> tuple[SeenRecord, dict[str, Value]]:
    """What really came of a trial, and behind a bar what it really ran at: ``erred 12m | tCL 38``.

    Raises:
        Refused: one of them is not understood.
    """
    seen, _, values = text.partition("|")
    moved = moved_values(values, rig, trial.setpoint) if values.strip() else trial.setpoint
    rig.check_past(moved)
    return parse_record(seen), {one.knob: one.after for one in moved.changes_from(trial.setpoint)}


def correct_prompt(trial: Trial, rig: Rig) -> Prompt:
    """How a trial really ended."""
    now = record_of(trial)
    return Prompt(
        f"trial {trial.number}, {ended_words(trial)}: how did it really end?",
        f"like: {RECORDS}\nbehind a bar what it really ran at, like: held 1h | tCL 38. What stood here before stays in "
        f"the book, with the correction; u takes it back",
        "" if now is None else now.show(),
        lambda text: corrected(text, rig, trial),
    )


def past_trials(text: str, rig: Rig, base: Setpoint, usual: LoadPlan) -> tuple[PastTrial, ...]:
    """Trials that were made elsewhere: one in a line, or all of a file.

    Raises:
        Refused: naming what is wrong, and in which line of a file.
    """
    typed = text.strip()
    if not typed:
        raise Refused("Type a trial in a line, or the name of a file.")
    if typed.lower().endswith(LIST_ENDINGS) and "|" not in typed:
        return read_trials(typed_path(typed), Reading({}, rig, base, usual)).trials
    return (trial_of_line(typed, rig, base, usual),)


def past_trials_prompt(rig: Rig, base: Setpoint, usual: LoadPlan) -> Prompt:
    """Trials made elsewhere or before."""
    return Prompt(
        f"trials of {rig.name} that were made elsewhere, or before",
        f"one in a line: {EXAMPLE}\nonly how it ended is needed: values that are not named are as dialled, the load is "
        f"{usual.kind}, and a time may be about so long (about 1h). Or a file ending in {', '.join(LIST_ENDINGS)}: a "
        f"spreadsheet with a column a knob, or such lines. u takes them back",
        "",
        lambda text: past_trials(text, rig, base, usual),
    )


def rigs_prompt(names: Sequence[str], now: str) -> Prompt:
    """Which rig to work on; what else is known of each comes later."""

    def check(text: str) -> None:
        if text.strip() not in names:
            raise Refused(f"{text.strip()[:40]!r} is no rig of the book; it has: {', '.join(names)}. r›n adds one.")

    at = names.index(now) if now in names else 0
    return Prompt("work on which rig", "", "", check, picks=[Pick(name) for name in names], at=at)


def rig_picks(rigs: "Sequence[RigLine]") -> tuple[Pick, ...]:
    """The rigs, a line each, with the story of the one in hand."""
    wide = max((len(one.owner) for one in rigs), default=0)
    return tuple(
        Pick(
            one.name,
            f"{one.memory}  {one.owner:<{wide}}  {' · '.join(part for part in (one.state, one.next_step) if part)}",
            " · ".join(part for part in (f"for: {one.purpose}, on {', '.join(one.benches)}", one.story) if part),
            Role.LIT if one.waits else Role.FAILED if one.failed else Role.TEXT,
        )
        for one in rigs
    )
