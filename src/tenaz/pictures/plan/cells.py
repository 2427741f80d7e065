"""The Plan picture: what is to come as a way through the hours; after a run, the account of it on the same screen."""

from dataclasses import dataclass
from datetime import datetime

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import show_duration
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.plans import Planned, PlanRun, plan_lasts_s
from tenaz.core.trials.facts import hottest_of
from tenaz.core.trials.trial import Trial
from tenaz.pictures.book.trial import ended_words, values_off_stock
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import NEXT, Role, mark_of

NOTHING = (
    "Nothing is planned. a›p puts the dialled values with the load that is chosen on the plan, or the climb under way "
    "as a whole; a›g then makes all of it by itself, one after the other, while nobody is there."
)
WAY = 18


@dataclass(frozen=True, slots=True)
class PlanPicture:
    """``waiting`` is what is to come; ``at`` the place pointed at; ``climbs`` names knobs of planned searches by id.
    ``over_at`` is when it would be through (None: nobody knows). ``run`` is the newest run with its ``made`` trials;
    ``ideas`` are open notes on values.
    """

    rig: Rig
    in_force: Setpoint
    waiting: tuple[Planned, ...]
    at: int = 0
    climbs: tuple[tuple[int, str], ...] = ()
    over_at: datetime | None = None
    run: PlanRun | None = None
    made: tuple[Trial, ...] = ()
    ideas: tuple[ValueNote, ...] = ()


def draw_plan(picture: PlanPicture, width: int, height: int) -> Cells:
    """What is to come above, the account of the newest run beneath, noted ideas at the end."""
    cells = Cells(width, height)
    account = account_lines(picture) if picture.run is not None else []
    ideas = _idea_lines(picture)
    below = min(height // 2, len(account)) if picture.waiting else len(account)
    row = _waiting(cells, picture, max(4, height - below - min(len(ideas), 4) - 2))
    for number, (text, role) in enumerate(account):
        if row + 1 >= height - min(len(ideas), 4) and number < len(account) - 1:
            cells.put(0, row + 1, f"{len(account) - number} more lines: o›x writes all", Role.LIT)
            row += 1
            break
        row += 1
        cells.put(0, row, clipped(text, width), role)
    for text, role in ideas:
        row += 1
        cells.put(0, row, clipped(text, width), role)
    return cells


def _waiting(cells: Cells, picture: PlanPicture, room: int) -> int:
    waiting, width = picture.waiting, cells.width
    if not waiting:
        row = -1
        for row, line in enumerate(wrapped(NOTHING, width)):
            cells.put(0, row, line, Role.FAINT)
        return row + 1
    lasts = plan_lasts_s(waiting)
    total = "" if lasts is None else f", {show_duration(lasts)} under load"
    if picture.over_at is not None:
        total += f", through at about {picture.over_at.astimezone():%a %H:%M}"
    cells.put(0, 0, f"{len(waiting)} to come{total}", Role.TEXT)
    cells.put_right(width, 0, "a›g makes it", Role.FAINT)
    longest = max((one.load.duration_s or 0.0 for one in waiting if one.search_id is None), default=0.0)
    shown = max(1, room - 2)
    first = max(0, min(picture.at - shown // 2, len(waiting) - shown))
    climbs = dict(picture.climbs)
    for row, one in enumerate(waiting[first : first + shown], 2):
        mine = first + row - 2 == picture.at
        cells.put(0, row, "▸" if mine else NEXT.sign, Role.LIT if mine else Role.FAINT)
        if one.search_id is not None:
            cells.put(2, row, "┈" * WAY, Role.LIT)
            words = f"climb of {climbs.get(one.search_id, 'a knob')}, as far as it goes, {one.load.kind}"
        else:
            length = (one.load.duration_s or 0.0) / longest if longest else 0.0
            cells.put(2, row, "━" * max(1, round(length * WAY)), Role.MEASURED)
            words = f"{values_off_stock(one.setpoint, picture.rig)} · {one.load.show()}"
        words += f" · {one.why}" if one.why else ""
        cells.put(WAY + 4, row, clipped(words, width - WAY - 4), Role.TEXT if mine else Role.FAINT)
        cells.aim(0, row, width, ("planned", first + row - 2))
    return 2 + min(shown, len(waiting))


def _idea_lines(picture: PlanPicture) -> list[tuple[str, Role]]:
    if not picture.ideas:
        return []
    knobs = {knob.name: knob for knob in picture.rig.knobs}
    lines: list[tuple[str, Role]] = [("", Role.TEXT), ("noted while working, to come back to", Role.FAINT)]
    for note in picture.ideas:
        knob = knobs.get(note.knob)
        label = f"{knob.label} {knob.show(note.value)}" if knob else note.knob
        lines.append((f"  {label}: {note.show()}", Role.TEXT))
    return lines


def account_lines(picture: PlanPicture) -> list[tuple[str, Role]]:
    """The newest run of the plan, told for whoever comes back to it."""
    run, made = picture.run, picture.made
    if run is None:
        return []
    begun = f"{run.begun_utc.astimezone():%a %d %b, %H:%M}"
    ended = "running now" if run.open else f"to {run.ended_utc.astimezone():%H:%M}" if run.ended_utc else ""
    passed = sum(one.verdict is Verdict.PASS for one in made)
    failed = sum(one.verdict is Verdict.FAIL for one in made)
    hours = sum(one.elapsed_s for one in made) / 3600
    lines: list[tuple[str, Role]] = [
        ("", Role.TEXT),
        (f"the run of {begun} {ended}: {_why(picture)}", Role.LIT),
        (f"{len(made)} made, {passed} held, {failed} failed · {hours:.1f} h under load{_hottest(made)}", Role.TEXT),
    ]
    for trial in made:
        note = f" · {trial.note}" if trial.note else ""
        words = f"{trial.number:>5}  {ended_words(trial)} · {values_off_stock(trial.setpoint, picture.rig)}"
        lines.append((f"{words} · {trial.plan.kind}{note}", mark_of(trial.outcome).role))
    stands = values_off_stock(picture.in_force, picture.rig)
    lines.append((f"set now: {stands}", Role.TEXT))
    if picture.waiting and not run.open:
        waits = "still waits" if len(picture.waiting) == 1 else "still wait"
        lines.append((f"{len(picture.waiting)} {waits}: a›g goes on", Role.LIT))
    return lines


def _why(picture: PlanPicture) -> str:
    run = picture.run
    assert run is not None
    return f"ends {run.rule.show()} at the latest" if run.open else run.ended_why


def _hottest(made: tuple[Trial, ...]) -> str:
    hottest = hottest_of(one.facts for one in made)
    return f" · at most {hottest.peak:.0f} °C ({hottest.label})" if hottest else ""
