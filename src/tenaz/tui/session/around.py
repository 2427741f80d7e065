"""What stands around a page: its foot, what is said of the dialled values, how high the log is, where notices stand."""

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.searches.search import UNPICK
from tenaz.margins.judging import Judgement
from tenaz.margins.safety import safety_of
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.status.evidence import draw_evidence
from tenaz.pictures.status.foot import put_foot
from tenaz.tui.session.workspace import Workspace
from tenaz.tui.widgets.panel import Drawing, Panel

if TYPE_CHECKING:
    from textual.app import App

    from tenaz.workshop.looking.view import View

SAID_AS = {UNPICK: "finding the culprit"}
"""Searches that are called otherwise on the screen."""


def footed(drawing: Drawing, keys: Sequence[tuple[str, str]]) -> Drawing:
    """A drawing with a line of keys under it."""

    def draw(width: int, height: int) -> Cells:
        cells = drawing(width, max(1, height - 1))
        with_foot = Cells(width, height)
        with_foot.paste(0, 0, cells)
        put_foot(with_foot, height - 1, keys)
        return with_foot

    return draw


def evidence_drawing(work: Workspace) -> Drawing:
    """What is shown at the dialled values, and what they are where they differ from stock or from what is in force."""
    view, rig, dialled = work.view, work.view.rig, work.dial.setpoint
    evidence, safety = evidence_at(dialled, view.index, rig), safety_of(rig, dialled, view.index)
    apart = {change.knob for base in (rig.stock, view.in_force) for change in dialled.changes_from(base)}
    values = tuple(
        (f"{k.label} {k.show(dialled[k.name])}", dialled[k.name] != view.in_force[k.name])
        for k in rig.knobs
        if k.name in apart or k.name == DATA_RATE
    )
    return lambda width, height: draw_evidence(evidence, rig.purpose, values, width, height, safety)


ASKED_LATER = "nobody judged it yet, and it counts for nothing until somebody does"

ROWS_AT_REST = 2
"""Of the log, while nothing runs."""
ROWS_A_LOG_LINE = 7
"""Of the screen: so much higher it must be for one more line of the log."""


def fit_log(app: "App[Any]", lines: int, busy: bool) -> None:
    """Give the log two rows, and while something runs as many as it has lines, up to a part of the screen. On a small
    screen it has a panel of its own, and the style sheet says how large.
    """
    panel = app.query_one("#log", Panel)
    if app.screen_stack[0].has_class("folded"):
        panel.styles.height = None
        panel.styles.clear_rule("display")
        return
    panel.display = lines > 0
    most = max(ROWS_AT_REST + 1, app.size.height // ROWS_A_LOG_LINE) if busy else ROWS_AT_REST
    panel.styles.height = 1 + min(lines, most)


def notices_above_next(app: "App[Any]") -> None:
    """What is said in passing never covers what comes next, or a question."""
    screen = app.screen_stack[0]
    below = [app.query_one(name) for name in ("#next", "#log", "#keys")]
    rows = sum(int(one.styles.height.value) if one.styles.height else one.size.height for one in below if one.display)
    for rack in screen.query("ToastRack"):
        rack.styles.margin = (0, 0, rows + 1, 0)


def edges_on(view: "View", dialled: Setpoint) -> dict[str, Judgement]:
    """What was judged on the lines through what is dialled, by knob."""
    found = {}
    for name, picture in view.searches.pictures.items():
        if picture.judged is not None and picture.base is not None:
            apart = {change.knob for change in dialled.changes_from(picture.base)}
            if not apart - {name}:
                found[name] = picture.judged
    return found
