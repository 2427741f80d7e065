"""``tenaz margins``: how far what is in use is from what fails."""

from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import BenchOption, JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import BookOption, say
from tenaz.cli.kit.paper import write_paper
from tenaz.core.base.errors import Refused

if TYPE_CHECKING:
    from tenaz.core.evidence.old_edges import OldEdge
    from tenaz.core.rigs.rig import Rig
    from tenaz.margins.safety import Safety
    from tenaz.pictures.margins.model import MarginRow, MarginsPicture
    from tenaz.workshop.bench.at_work import AtWork


def margins(
    context: typer.Context,
    rig: RigOption = "",
    bench: BenchOption = None,
    as_json: JsonOption = False,
    out: Annotated[Path | None, typer.Option("--out", help="Write .svg or .pdf; with --prior .toml.")] = None,
    prior: Annotated[bool, typer.Option("--prior", help="What is believed before anything is tried, and why.")] = False,
    book: BookOption = None,
) -> None:
    """Tell of each knob how far the value in use is from the edge of the purpose, with intervals.

    Examples:

        tenaz margins
        tenaz margins --rig ridge --json
        tenaz margins --out ridge-margins.pdf
        tenaz margins --prior                  # what past rigs say of each knob
        tenaz margins --prior --out ours.toml  # the same for another workshop, without names

    Two numbers always stand together: *shown*, what the evidence shows directly, and *model*, what it extends to.

    Exit status: 0 told or written, 2 could not be.
    """
    from tenaz.pictures.margins.build import margins_picture
    from tenaz.pictures.margins.cells import draw_margins_on_paper, margin_words
    from tenaz.pictures.margins.old_edges import moves_words, old_edge_words

    with book_opened(context, book, rig, bench, read_only=True) as workshop:
        stands = workshop.stands()
        picture = margins_picture(stands.rig, stands.in_force, stands.index)
        if prior and out is not None:
            _share(workshop.at, out)
            return
        if out is not None:
            write_paper("margins", stands, draw_margins_on_paper(picture, 120), out)
            return
        if prior:
            say(_believed(stands.rig))
            return
        if as_json:
            say_object("margins", _plain(picture))
            return
    say(f"{stands.rig.name}: margins for {stands.rig.purpose.tolerance.show()}")
    say(f"as it stands: {picture.safety.words}")
    for row in picture.rows:
        way, hours, between = margin_words(row)
        say(f"{row.knob.label} {row.knob.show(row.in_use)} under {row.kind}: {way}\n    {hours}\n    {between}")
    for old in picture.old:
        say(f"found before: {old_edge_words(stands.rig, old)}")
    for pair in picture.moves:
        say(moves_words(pair))
    say(f"next hour: {picture.worth}" if picture.rows else "no knob was moved from what is in use yet")


def _share(at: "AtWork", out: Path) -> None:
    """Write what the rigs with this one's memory have in common."""
    from tenaz.catalogues.writing import write_whole
    from tenaz.margins.experience import LEAST_RIGS
    from tenaz.margins.experience_files import experience_text
    from tenaz.workshop.runs.learning import known_in_common

    if out.suffix.lower() != ".toml":
        raise Refused(f"{out.name!r} cannot be written: what rigs have in common is a file ending in .toml.")
    known = known_in_common(at)
    if not known:
        raise Refused(
            f"along no knob were {LEAST_RIGS} rigs with {at.rig.family} climbed until something failed: there is "
            f"nothing to share yet."
        )
    write_whole(out, experience_text(known))
    say(f"written: {out.absolute()} ({', '.join(f'{one.knob}: {one.rigs} rigs' for one in known)})")


def _believed(rig: "Rig") -> str:
    """What is believed of each knob before it is tried, and how many rigs stand behind it."""
    from tenaz.core.rigs.rig import stock_strain
    from tenaz.margins.priors import prior_of

    lines = []
    for knob in rig.knobs:
        believed, came = prior_of(rig, knob), stock_strain(rig, knob)
        if came is None:
            continue
        behind = believed.learnt_from or "nothing learnt: the same for every knob"
        unit = believed.unit if believed.unit != "steps" else "grid steps"
        told = f"failures grow e-fold over {believed.slope.low:.3g} to {believed.slope.high:.3g} {unit}"
        place = believed.place
        where = (
            "" if place is None else f"; they fail each hour {place.middle - came:+.1f} steps from what they came with"
        )
        spread = "" if place is None else f", give or take {place.spread:.1f}; {place.unlike:.0%} for one unlike them"
        lines.append(f"{knob.label}: {told}{where}{spread} ({behind})")
    return "\n".join(lines)


def _plain(picture: "MarginsPicture") -> dict[str, object]:
    tolerance = picture.tolerance
    return {
        "rig": picture.rig.name,
        "tolerated": {"failures": tolerance.failures, "hours": tolerance.hours, "confidence": tolerance.confidence},
        "safe": _safety(picture.safety),
        "margins": [_row(row) for row in picture.rows],
        "not_moved": list(picture.still),
        "next_hour": picture.worth,
        "old_edges": [_old(one) for one in picture.old],
        "moves_with": [
            {
                "knob": one.knob.name,
                "with": one.other.name,
                "from": one.easier,
                "to": one.harder,
                "steps_least": one.least,
                "steps_most": one.most,
            }
            for one in picture.moves
        ],
    }


def _safety(safety: "Safety") -> dict[str, object]:
    worst = safety.held_back
    return {
        "sure": safety.sure,
        "as_asked": safety.as_asked,
        "safe": safety.safe,
        "not_shown": list(safety.not_shown),
        "background": {
            "clean_h": safety.background.here_h,
            "in_use_h": safety.background.in_use_h,
            "alike_h": safety.background.alike_h,
            "failures": safety.background.failures,
            "owed_h": safety.background.owed_h(safety.purpose.tolerance),
        },
        "warmest_day": None if safety.warmest is None else asdict(safety.warmest),
        "held_back_by": None if worst is None else {"knob": worst.knob.name, "load": worst.judged.kind.value},
        "loads_not_tried": [kind.value for kind in safety.unknown],
        "words": safety.words,
    }


def _old(old: "OldEdge") -> dict[str, object]:
    return {
        "knob": old.knob.name,
        "held": old.bracket.held,
        "failed": old.bracket.failed,
        "newest_trial": old.newest.number,
        "stood_otherwise": {one.knob: one.before for one in old.moved},
        "speaks": old.speaks.name.lower(),
        "ask": old.asked if old.check else None,
        "ask_seconds": old.check.plan.duration_s if old.check else None,
        "holds_today": old.holds_today,
    }


def _row(row: "MarginRow") -> dict[str, object]:
    low, middle, high = row.steps
    return {
        "knob": row.knob.name,
        "unit": row.knob.unit,
        "in_use": row.in_use,
        "load": row.kind.value,
        "held": row.bracket.held,
        "failed": row.bracket.failed,
        "advised": row.stand,
        "nearer_by_10_k_steps": row.nearer_by_10_k,
        "margin_steps": middle,
        "margin_steps_low": low,
        "margin_steps_high": high,
        "interval": row.judged.edge.confidence,
        "margin_units": row.in_units,
        "margin_percent": row.percent,
        "guard_steps": row.guard_steps,
        "temperature_reserve_k": row.reserve_k,
        "sure_by_this_knob": row.sure,
        "shown_hours_between_failures": row.shown_h,
        "model_hours_between_failures": 1 / row.rate.median,
        "model_hours_low": 1 / row.rate.high,
        "model_hours_high": 1 / row.rate.low,
        "doubts": list(row.judged.doubts),
    }
