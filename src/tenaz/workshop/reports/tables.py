"""The tables of a report: what was moved, and the whole sheet."""

from tenaz.core.knobs.setpoint import Auto
from tenaz.core.rigs.steps import step_between
from tenaz.pictures.sheet.model import sheet_picture
from tenaz.pictures.sheet.paper import sheet_table
from tenaz.press.leaf import Table
from tenaz.workshop.reports.ground import ReportGround

ASSUMED = "not read back"


def moved_table(ground: ReportGround) -> Table:
    """What differs from stock: before, now, by how many steps and percent."""
    view = ground.view
    rig = view.rig
    knobs = {knob.name: knob for knob in rig.knobs}
    rows: list[tuple[str, ...]] = []
    for change in step_between(rig, rig.stock, view.in_force).changes:
        knob = knobs.get(change.knob)
        if knob is None:
            rows.append((change.knob, str(change.before), str(change.after), "", "", ""))
            continue
        before, after = change.before, change.after
        steps = percent = ""
        if not isinstance(before, Auto) and not isinstance(after, Auto):
            if before in knob.grid and after in knob.grid:
                steps = f"{knob.strain(after) - knob.strain(before):+d}"
            percent = f"{100 * (after - before) / before:+.1f} %" if before else ""
        was, now = (knob.show(one).removesuffix(f" {knob.unit}") for one in (before, after))
        rows.append((knob.label, was, now, knob.unit, steps, percent))
    columns = ("setting", "stock", "now", "unit", "steps harder", "of stock")
    if not rows:
        return Table("what was moved", (), (("nothing: it runs as it came",),), wide=True)
    return Table("what was moved", columns, tuple(rows), (2.6, 1.2, 1.2, 0.9, 1.2, 1.0), (1, 2, 4, 5), wide=True)


def whole_sheet(ground: ReportGround) -> Table:
    """Every knob with its value, its time, stock, how it is known, and what was noted."""
    view = ground.view
    picture = sheet_picture(view.rig, view.in_force, view.rig.stock, notes=view.kept.notes)
    last = view.index.set_by

    def known_by(name: str) -> str:
        return str(last.source_of(name)) if last is not None else ASSUMED

    return sheet_table(picture, "stock", known_by)
