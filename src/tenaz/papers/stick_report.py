"""What a stick leaves to be read on any machine: text, and the same as one page of HTML."""

from dataclasses import dataclass
from datetime import datetime
from html import escape

from tenaz.aboard.ending import Ending
from tenaz.core.base.plain_text import plain
from tenaz.core.loads.plan import Mismatch, show_duration
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.papers.square_code import square_svg
from tenaz.pictures.drawing.cells import Cells, wrapped
from tenaz.pictures.drawing.cells_html import cells_to_html
from tenaz.pictures.drawing.marks import Role, mark_of
from tenaz.pictures.drawing.roles import LIGHT_GROUND
from tenaz.pictures.memory.cells import draw_memory
from tenaz.pictures.memory.model import MemoryPicture

COLUMNS, MAP_ROWS = 96, 44
MOST_TRIALS, MOST_WRONG = 200, 40


@dataclass(frozen=True, slots=True)
class StickReport:
    """A machine, what was tried on it, what was wrong, and how much of its memory was reached."""

    rig: Rig
    trials: tuple[Trial, ...]
    wrong: tuple[Mismatch, ...]
    memory: MemoryPicture
    standing: str
    at_utc: datetime
    ended: Ending | None = None

    def text(self) -> str:
        """For whatever shows letters."""
        return "".join(f"{''.join(run.text for run in row).rstrip()}\n" for row in self._cells().rows())

    def html(self) -> str:
        """One page that needs nothing beside it."""
        title = escape(f"Tenaz: {plain(self.rig.name)}")
        style = f"background:{LIGHT_GROUND};font:14px/1.35 monospace;padding:2em"
        return (
            f'<!doctype html>\n<html lang="en">\n<meta charset="utf-8">\n<title>{title}</title>\n'
            f'<body style="{style}">\n<pre>\n'
            + cells_to_html(self._cells())
            + "\n</pre>\n"
            + (square_svg(self.ended.brief) if self.ended else "")
            + "\n</body>\n</html>\n"
        )

    def _cells(self) -> Cells:
        lines = self._lines()
        drawn = draw_memory(self.memory, COLUMNS, MAP_ROWS)
        used = max((at for at, row in enumerate(drawn.rows()) if any(run.text.strip() for run in row)), default=0) + 1
        cells = Cells(COLUMNS, len(lines) + used + 1)
        for at, (words, role) in enumerate(lines):
            cells.put(0, at, words, role)
        cells.paste(0, len(lines) + 1, drawn)
        return cells

    def _lines(self) -> list[tuple[str, Role]]:
        rig, stamp = self.rig, self.at_utc.strftime("%d %b %Y %H:%M UTC")
        lines = [(f"{rig.name}, as of {stamp}", Role.LIT), ("", Role.TEXT)]
        if self.ended is not None:
            role = Role.HELD if self.ended.fine else Role.FAILED
            lines += [(self.ended.headline, role), *((line, Role.TEXT) for line in self.ended.lines), ("", Role.TEXT)]
        facts = [("processor", rig.processor), *rig.parts]
        lines += [(f"{what:12}{words}", Role.TEXT) for what, words in facts if words]
        for module in rig.machine.modules if rig.machine else ():
            if module.fitted:
                words = (
                    f"{module.slot}  {(module.size_bytes or 0) >> 30} GiB  {module.part}  serial {module.serial or '?'}"
                )
                lines.append((f"{'module':12}{words}", Role.TEXT))
        standing = wrapped(self.standing, COLUMNS - 12)
        lines += [(f"{'' if at else 'standing':12}{line}", Role.FAINT) for at, line in enumerate(standing)]
        lines += [("", Role.TEXT), ("trials", Role.LIT)]
        shown = self.trials[-MOST_TRIALS:]
        lines += [_trial(trial) for trial in shown]
        if not shown:
            lines.append(("none yet", Role.UNKNOWN))
        if self.wrong:
            lines += [("", Role.TEXT), (f"{len(self.wrong)} wrong values", Role.LIT)]
            lines += [(one.show(), Role.FAILED) for one in self.wrong[:MOST_WRONG]]
            if len(self.wrong) > MOST_WRONG:
                lines.append((f"and {len(self.wrong) - MOST_WRONG} more, in the book", Role.FAINT))
        return lines


def _trial(trial: Trial) -> tuple[str, Role]:
    mark = mark_of(trial.outcome)
    when = trial.begun_utc.strftime("%d %b %H:%M")
    ran = f" after {show_duration(trial.elapsed_s)}" if trial.elapsed_s else ""
    hottest = trial.facts.hottest
    warm = f", {hottest.label} at most {hottest.peak:.0f} °C" if hottest else ""
    return f"{trial.number:4}  {when}  {mark.sign} {mark.word}{ran}: {trial.plan.show()}{warm}", mark.role
