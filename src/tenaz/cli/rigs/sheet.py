"""``tenaz sheet``: setpoints as files: checked, carried to another rate, compared, converted, printed."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.options import BookOption, errors_told, say
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.timings.clocks import Rounding

if TYPE_CHECKING:
    from tenaz.core.rigs.rig import Rig
    from tenaz.papers.setpoint_files import Sheet

MOST_FILES = 2


def sheet(
    context: typer.Context,
    files: Annotated[list[Path] | None, typer.Argument(help="A setpoint file, or two to be compared.")] = None,
    rig: Annotated[
        str | None,
        typer.Option(
            "--rig",
            help="A rig of the book: its knobs, or its sheet.",
            autocompletion=completing.rigs,
        ),
    ] = None,
    setpoint: Annotated[
        str | None,
        typer.Option(
            "--setpoint", help="Its setpoint of this name; else what is set now.", autocompletion=completing.setpoints
        ),
    ] = None,
    to_rate: Annotated[int | None, typer.Option("--to-rate", help="Carry it to this data rate.", metavar="MTS")] = None,
    rounding: Annotated[
        Rounding, typer.Option("--rounding", help="As the standards, or always up.")
    ] = Rounding.CAUTIOUS,
    save: Annotated[
        Path | None, typer.Option("--out", "--save", help="Write it: .toml, .csv, .txt or .pdf.", metavar="FILE")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
    follow_ups: Annotated[bool, typer.Option("--follow-ups", help="Only what was noted to come back to.")] = False,
    drop: Annotated[bool, typer.Option("--drop", help="Take the setpoint of this name out of the book.")] = False,
    book: BookOption = None,
) -> None:
    """Check a setpoint, carry it to another data rate, compare two, write it in another form.

    Examples:

        tenaz sheet winter.toml                          # check it, with times in ns
        tenaz sheet winter.toml --to-rate 6400 --save faster.toml
        tenaz sheet winter.toml summer.toml              # what differs, and whether that is one step
        tenaz sheet --rig ridge --save ridge.pdf         # what is in force, to be printed
        tenaz sheet --rig ridge --follow-ups

    Exit status: 0 nothing to say, 1 a value too low, too tight or not allowed, 2 could not run.
    """
    with errors_told():
        found = files or []
        if len(found) > MOST_FILES:
            raise Refused(f"{len(found)} files: give one, or two to be compared.")
        if not found and rig is None:
            raise Refused("Name a setpoint file, or a rig of the book with --rig.")
        if drop:
            _drop(rig, setpoint, book or context.obj)
            return
        known, sheets, notes = _read(found, rig, setpoint, book or context.obj)
        first = sheets[0]
        if to_rate is not None:
            first = _carried(known, first, to_rate, rounding)
        if save is not None:
            _save(known, first, save)
            say(f"written: {save.absolute()}")
            raise typer.Exit(int(bool(first.out_of_reach)))
        if follow_ups:
            say("\n".join(notes) if notes else "There is nothing to follow up.")
            return
        status = _compare(known, first, sheets[1], as_json) if len(sheets) > 1 else _check(known, first, as_json)
    raise typer.Exit(status)


def _read(
    files: list[Path], rig_name: str | None, name: str | None, place: str | None
) -> tuple["Rig", list["Sheet"], list[str]]:
    """The rig that the sheets are read on, the sheets, and what is to be followed up."""
    from tenaz.core.trials.in_force import counting_on, setpoint_in_force
    from tenaz.papers.setpoint_files import Sheet, read_sheet
    from tenaz.papers.sheets import paper_rig
    from tenaz.pictures.sheet.model import sheet_picture

    sheets = [read_sheet(path) for path in files]
    if rig_name is None:
        return paper_rig(sheets[0]), sheets, []
    from tenaz.journal.opening.opening import open_book

    opened = open_book(place, read_only=True)
    try:
        rig = opened.store.rigs.one(rig_name)
        trials = opened.store.trials.of(rig_name)
        notes = opened.store.sheets.notes(rig_name)
        saved = {one.name: one for one in opened.store.sheets.saved(rig_name)}
    finally:
        opened.close()
    if not sheets:
        if name is not None and name not in saved:
            raise Refused(f"{rig_name} has no setpoint {name!r}; it has: {', '.join(saved) or 'none yet'}.")
        bench = trials[-1].bench if trials else rig.benches[0]
        stands = saved[name].setpoint if name else setpoint_in_force(counting_on(bench, trials), rig.stock)
        kept = tuple(note for note in notes if stands[note.knob] == note.value)
        sheets = [Sheet(stands, name or "set now", rig_name, rig.family, saved[name].text if name else "", kept)]
    return rig, sheets, list(sheet_picture(rig, sheets[0].setpoint, rig.stock, notes=notes).follow_ups)


def _drop(rig_name: str | None, name: str | None, place: str | None) -> None:
    from tenaz.journal.opening.opening import open_book

    if rig_name is None or name is None:
        raise Refused("Name the rig with --rig and its setpoint with --setpoint.")
    opened = open_book(place)
    try:
        opened.store.sheets.drop(rig_name, name)
    finally:
        opened.close()
    say(f"taken out: setpoint {name} of {rig_name}; trials made at it stay")


def _carried(rig: "Rig", sheet: "Sheet", to_rate: int, rounding: Rounding) -> "Sheet":
    from dataclasses import replace

    from tenaz.core.rigs.rescaled import rescaled_setpoint

    carried = rescaled_setpoint(rig, sheet.setpoint, to_rate, rounding)
    text = f"carried from {sheet.setpoint.number('data_rate_mts')} to {to_rate} MT/s, rounding {rounding}"
    if carried.out_of_reach:
        labels = {knob.name: knob.label for knob in rig.knobs}
        text += f"; too tight: {', '.join(labels[one.name] for one in carried.out_of_reach)}"
        for one in carried.out_of_reach:
            say(f"✗ {labels[one.name]}: {one.text}", err=True)
    return replace(sheet, setpoint=carried.setpoint, text=text, notes=(), out_of_reach=carried.out_of_reach)


def _save(rig: "Rig", sheet: "Sheet", path: Path) -> None:
    from tenaz.papers.sheets import write_sheet
    from tenaz.workshop.reports.letterhead import our_paper

    write_sheet(rig, sheet, path, size=our_paper())


def _check(rig: "Rig", sheet: "Sheet", as_json: bool) -> int:
    from tenaz.core.knobs.timings.figures import figures, refresh_note
    from tenaz.papers.sheets import refusals
    from tenaz.pictures.sheet.model import sheet_lines, sheet_picture

    picture = sheet_picture(
        rig, sheet.setpoint, sheet.setpoint, sheet.name or sheet.text, notes=sheet.notes, also=sheet.out_of_reach
    )
    picture = picture.only(list(sheet.setpoint))
    wrong = refusals(rig, sheet.setpoint)
    bad = bool(wrong) or any(row.remark and not row.remark.standing.harmless for row in picture.rows)
    values = sheet.setpoint.numbers()
    known = figures(values, values["data_rate_mts"], rig.family) if "data_rate_mts" in values else None
    if as_json:
        say_object("sheet", _as_json(picture.rows, values, wrong, known))
        return int(bad)
    lines = sheet_lines(picture)
    if known is not None:
        lines += ["", "   ".join(f"{name} {ns:.2f} ns" for name, ns in known.times_ns)]
        lines[-1] += f"   peak {known.peak_gb_s:.1f} GB/s a channel"
        if known.refresh_us is not None and known.refresh_lost is not None and known.cells_hold_us is not None:
            note = refresh_note(known.cells_hold_us, rig.family)
            lines.append(f"refresh each {known.refresh_us:.2f} µs, {known.refresh_lost:.1%} of the time; {note}")
    say("\n".join([*lines, *(f"✗ {text}" for text in wrong)]))
    return int(bad)


def _as_json(rows: Any, values: dict[str, int], wrong: list[str], known: Any) -> dict[str, Any]:
    from dataclasses import asdict

    return {
        "values": [
            {
                "knob": row.name,
                "label": row.label,
                "group": row.group,
                "value": values.get(row.name, "auto"),
                "time_ns": row.time_ns,
                "standing": row.remark.standing if row.remark else None,
                "remark": row.remark.text if row.remark else None,
                "notes": list(row.notes),
            }
            for row in rows
        ],
        "refused": wrong,
        "figures": asdict(known) if known else None,
    }


def _compare(rig: "Rig", before: "Sheet", after: "Sheet", as_json: bool) -> int:
    from tenaz.core.rigs.steps import step_between
    from tenaz.pictures.sheet.model import sheet_lines, sheet_picture

    step = step_between(rig, before.setpoint, after.setpoint)
    if as_json:
        changes = [{"knob": one.knob, "before": one.before, "after": one.after} for one in step.changes]
        say_object("step", {"changes": changes, "warning": step.warning or None})
        return 0
    if not step.changes:
        say("They are the same.")
        return 0
    picture = sheet_picture(rig, after.setpoint, before.setpoint, notes=after.notes)
    say("\n".join(sheet_lines(picture.only([change.knob for change in step.changes]))))
    if step.warning:
        say(f"\n{step.warning[0].upper()}{step.warning[1:]}.")
    return 0
