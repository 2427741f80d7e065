"""What is worked on in front of the screen: view, dial, pages, and what the next trial is to be."""

from dataclasses import dataclass, field, replace

from tenaz.advice.coming import NOTHING_YET, Coming
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.composing import Draft
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.ports.bench import Question
from tenaz.core.rigs.felt import felt_by
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.orders import BringLine
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.settings.model import Settings
from tenaz.tui.base.acts import Act, Acts
from tenaz.tui.base.dial import Dial
from tenaz.tui.base.load_view import LoadView
from tenaz.tui.pages.strip import Strip
from tenaz.workshop.looking.view import View

PACES: tuple[tuple[float | None, str], ...] = (
    (600.0, "an hour in 6 s"),
    (60.0, "an hour in a minute"),
    (1.0, "as it is"),
    (None, "in a moment"),
)

USUAL = Settings().work
"""What is proposed where nothing was set or chosen."""


@dataclass(slots=True)
class Workspace:
    """``busy`` says that something was started and has not ended; ``winding_up`` that its newest trial is recorded, or
    is just being so, and neither ended nor went on yet. ``left_unknown`` are values that the technician does
    not know either. ``carried_from`` is the sheet that was carried last, as it stood before.
    """

    view: View
    dial: Dial
    pages: Strip
    load_view: LoadView
    plan: LoadPlan = field(default_factory=lambda: parse_load(USUAL.load))
    strategy: str = USUAL.strategy
    pace: int = 0
    cursor: int | None = None
    filter: str = ""
    busy: bool = False
    winding_up: bool = False
    left_unknown: set[str] = field(default_factory=set)
    carried_from: Setpoint | None = None
    coming: Coming = NOTHING_YET
    settings: Settings = field(default_factory=Settings)
    line_wanted: BringLine | None = None
    opened: int | None = None
    """The trial that was pointed at in the book: its load and its print are shown, until another one is pointed at."""
    routine: Draft | None = None
    """The routine that was composed last."""
    past: ClimbPicture | None = None
    """A climb of before that is looked at, until another knob is taken in hand or something runs."""
    compared: str | None = None
    """The saved setpoint that is compared with, by its name; None: none was chosen."""
    acts: Acts = field(default_factory=Acts)
    done_again: int = 0
    """So many acts of the book are on their way that were done before, and are no new ones."""
    put_off: int | None = None
    """An unfinished trial whose question is to wait."""
    _line_of: tuple[BringLine, int] | None = None
    _line: ClimbPicture | None = None

    @classmethod
    def on(cls, view: View) -> "Workspace":
        """A fresh one on a view."""
        dial, load_view = (
            Dial(view.rig, view.in_force, view.in_force),
            LoadView(view.rig.purpose, view.rig.stock, view.rig.slots),
        )
        work = cls(view, dial, Strip(), load_view, busy=view.now.running)
        work._listen()
        return work

    def _listen(self) -> None:
        """What is dialled is an act, that can be taken back."""
        dial = self.dial

        def moved(before: Setpoint, after: Setpoint) -> None:
            words = moved_words(dial.rig, before, after)
            self.acts.did(Act(words, lambda: dial.put_back(before), lambda: dial.put_back(after)))

        dial.moved = moved

    def choose(self, plan: LoadPlan) -> None:
        """Another load is the next."""
        before, words = self.plan, f"next load: {plan.show()}"

        def put(one: LoadPlan) -> None:
            self.plan = one

        put(plan)
        if plan != before:
            self.acts.did(Act(words, lambda: put(before), lambda: put(plan)))

    def take(self, view: View) -> bool:
        """Take a fresh view; whether it is of another rig or bench. What was dialled on the same one stays."""
        before, self.view = self.view, view
        made = view.now.made - before.now.made
        again, self.done_again = min(made, self.done_again), 0 if made > 0 else self.done_again
        for _ in range(made - again):
            self.acts.did(Act("", lambda: None, lambda: None, of_book=True))
        if before.rig.name == view.rig.name and before.bench is view.bench:
            self.dial.follow(view.in_force)
            self.dial.rig = view.rig
            return False
        self.dial = Dial(view.rig, view.in_force, view.in_force)
        self._listen()
        self.opened = None
        self.cursor, self.plan, self.routine = None, self.usual_load, None
        self.pages, self.past, self.compared = Strip(type(self.pages.shown)), None, None
        self.load_view = LoadView(view.rig.purpose, view.rig.stock, view.rig.slots)
        return True

    @property
    def load_for_knob(self) -> LoadPlan:
        """The next load: as chosen, or where none was chosen the usual one, of a kind that strains the knob in hand."""
        if self.plan != self.usual_load:
            return self.plan
        return felt_by(self.dial.knob, self.plan, self.view.rig.purpose)

    @property
    def usual_load(self) -> LoadPlan:
        """The load of a rig or bench on which none was chosen yet."""
        return parse_load(self.settings.work.load)

    def take_settings(self, settings: Settings) -> None:
        """What is usual from now on; what was chosen meanwhile stays."""
        if self.plan == self.usual_load:
            self.plan = parse_load(settings.work.load)
        if self.strategy == self.settings.work.strategy:
            self.strategy = settings.work.strategy
        self.settings = settings

    @property
    def question(self) -> Question | None:
        """What is asked while nothing runs: of a trial that nobody judged, unless that was put off."""
        now = self.view.now
        off = now.unfinished is not None and now.unfinished.id == self.put_off
        return None if off or self.view.book.read_only else now.question

    def know(self, knob: str, value: int) -> None:
        """A value of the rig that was not known is known now."""
        self.dial.know(knob, value)
        self.view = replace(self.view, stands=replace(self.view.stands, rig=self.dial.rig, in_force=self.dial.in_force))

    def open_note(self) -> ValueNote | None:
        """The newest open note on the value in hand."""
        knob, value = self.dial.knob.name, self.dial.value
        found = [note for note in self.view.kept.notes if note.open and note.knob == knob and note.value == value]
        return found[-1] if found else None

    def picture(self) -> ClimbPicture | None:
        """The climb under way along the knob in hand, else its line through the dialled values, else its last climb."""
        view, knob = self.view, self.dial.knob
        if self.past is not None and self.past.knob.name == knob.name and not self.busy:
            return self.past
        newest = view.searches.pictures.get(knob.name)
        if newest is not None and (newest.advice is None or self.busy):
            return newest
        line = self._line_picture(newest)
        if line is None or newest is None or not newest.points:
            return newest or line
        return newest if line.points[-1].number <= newest.points[-1].number else line

    def _line_picture(self, newest: ClimbPicture | None) -> ClimbPicture | None:
        """The line through the dialled values. It is drawn up elsewhere: until it comes there is none to show, and what
        is wanted stands in ``line_wanted``.
        """
        prefer = newest.kind if newest is not None and newest.kind is not None else self.plan.kind
        wanted = BringLine(self.dial.knob.name, self.dial.setpoint, prefer), self.view.marks.change
        if self._line_of == wanted:
            return self._line
        self.line_wanted = wanted[0]
        # The line as it stood a moment ago is nearer to the truth than none.
        return self._line if self._line_of is not None and _one_line(self._line_of[0], wanted[0]) else None

    def take_line(self, order: BringLine, picture: ClimbPicture | None) -> None:
        """A line was drawn up."""
        self._line_of, self._line = (order, self.view.marks.change), picture

    def pointable(self) -> tuple[Trial, ...]:
        """The trials that the cursor walks over: those on the page, or all when there are none."""
        picture = self.picture()
        numbers = {point.number for point in picture.points} if picture else set()
        return tuple(trial for trial in self.view.trials if trial.number in numbers) or self.view.trials

    def pointed_at(self) -> Trial | None:
        """The trial under the cursor, or the newest; None where there is none."""
        trials = self.pointable()
        return trials[-1 if self.cursor is None else min(self.cursor, len(trials) - 1)] if trials else None

    def walk(self, step: int) -> None:
        """Point at the next trial on the page, or the one before; what was opened in the book is not any more."""
        self.opened = None
        trials = self.pointable()
        at = len(trials) - 1 if self.cursor is None else self.cursor
        self.cursor = max(0, min(len(trials) - 1, at + step))

    def point_at_number(self, number: int) -> None:
        """Point at the trial of this number."""
        self.opened = None
        numbers = [trial.number for trial in self.pointable()]
        self.cursor = numbers.index(number) if number in numbers else None

    def loaded(self) -> Trial | None:
        """The trial whose load is shown."""
        shown = self.load_view.trial_id
        return None if shown is None else self.view.index.one(shown)

    def load_to_bring(self) -> Trial | None:
        """The trial whose load is to be shown, and neither is nor is on its way."""
        if self.busy:
            return None
        opened = None if self.opened is None else self.view.index.one(self.opened)
        trial = opened or self.pointed_at()
        return trial if trial is not None and trial.id not in (self.load_view.trial_id, self.load_view.asked) else None

    # -- comparing ----------------------------------------

    def compare_next(self) -> None:
        """Compare with the next saved setpoint, in turn; after the last with none."""
        names = [None, *(saved.name for saved in self.view.kept.saved)]
        at = names.index(self.compared) if self.compared in names else 0
        self.compared = names[(at + 1) % len(names)]

    def compared_saved(self) -> list[tuple[str, Setpoint]]:
        """What stands beside the sheet, where a saved setpoint was chosen."""
        if self.compared is None:
            return []
        chosen = [(saved.name, saved.setpoint) for saved in self.view.kept.saved if saved.name == self.compared]
        return [("set now", self.view.in_force), *chosen]

    def compared_with(self) -> tuple[str, Setpoint] | None:
        """What the dialled setpoint is compared with: one that was chosen, else what is in force, else stock."""
        view, dialled = self.view, self.dial.setpoint
        for saved in view.kept.saved:
            if saved.name == self.compared:
                return saved.name, saved.setpoint
        if view.in_force != dialled:
            return "set now", view.in_force
        return ("stock", view.rig.stock) if view.rig.stock != dialled else None


MOST_MOVED = 3
"""So many knobs are named; of more, how many."""


def moved_words(rig: Rig, before: Setpoint, after: Setpoint) -> str:
    """What was dialled, in a line."""
    changes = after.changes_from(before)
    if len(changes) > MOST_MOVED:
        return f"{len(changes)} knobs dialled"
    told = []
    for change in changes:
        knob = rig.knob(change.knob)
        told.append(f"{knob.label} {change.before} → {knob.show(change.after)}")
    return f"dialled {', '.join(told)}"


def _one_line(one: BringLine, other: BringLine) -> bool:
    """Whether both ask for the same line, from whatever value on it."""
    return one.knob == other.knob and one.through.line_key(one.knob) == other.through.line_key(other.knob)
