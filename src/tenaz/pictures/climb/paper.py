"""The Climb picture on paper: SVG or PDF, from the same model and with the same marks as on the screen."""

from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.core.knobs.knob import show_steps
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.drawing.marks import NEXT, Role, mark_of
from tenaz.pictures.drawing.paper import figure_to, plain
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.pictures.drawing.roles import LIGHT as INK
from tenaz.press.size import PaperSize

if TYPE_CHECKING:
    from matplotlib.axes import Axes

MOST_TICKS = 25
"""Values written at the axis."""


def export_climb(picture: ClimbPicture, path: Path, head: PaperHead, size: PaperSize = PaperSize.A4) -> None:
    """Write the picture to ``path``; its ending says in which format.

    Raises:
        TenazError: an ending that is not known, or a file that cannot be written.
    """
    told = f"Trials along {picture.knob.label}: {picture.bracket.show(picture.knob)}"
    with figure_to(path, 9.6, 5.9, head, told, size) as figure:
        axes, chance, rates = figure.subplots(1, 3, sharey=True, width_ratios=(4, 1, 1.2))
        _draw_trials(axes, picture)
        _draw_chance(chance, picture)
        _draw_rates(rates, picture)


def _draw_trials(axes: "Axes", picture: ClimbPicture) -> None:
    knob, strains = picture.knob, picture.strains
    guard = picture.guard
    if guard:
        axes.axhspan(guard[0], guard[-1] + 1, color=INK[Role.GUARD], alpha=0.3, lw=0, zorder=0)
        axes.text(
            len(picture.points) + 1.3,
            guard[0] + 0.1,
            f"guard band, {show_steps(len(guard))}",
            ha="right",
            size=9,
            color=INK[Role.TEXT],
        )
    numbers = [*range(len(picture.points)), len(picture.points)]
    for role, pick in ((Role.HELD, "held"), (Role.FAILED, "failed")):
        values = [getattr(point.bracket, pick) for point in picture.points]
        values.append(values[-1] if values else None)
        levels = [float("nan") if value is None else knob.strain(value) for value in values]
        axes.step(numbers, levels, where="post", color=INK[role], lw=1.2, zorder=1)
    for index, point in enumerate(picture.points):
        mark = mark_of(point.outcome)
        axes.text(
            index,
            point.strain,
            mark.sign,
            color=INK[Role.FAINT if point.apart else mark.role],
            ha="center",
            va="center",
            size=13,
            zorder=3,
            gid=f"trial-{point.number}-{mark.word.replace(' ', '-')}",
            bbox={"boxstyle": "circle,pad=0.05", "fc": "white", "ec": "none"},
        )
    if picture.ghost is not None:
        axes.text(
            len(picture.points),
            knob.strain(picture.ghost),
            NEXT.sign,
            color=INK[Role.LIT],
            ha="center",
            va="center",
            size=13,
        )
    axes.set_xlim(-0.8, len(picture.points) + 1.4)
    axes.set_ylim(strains[0] - 0.6, strains[-1] + 0.6)
    axes.set_xticks(range(len(picture.points)), [str(point.number) for point in picture.points])
    ticks = strains[:: -(-len(strains) // MOST_TICKS)]
    axes.set_yticks(list(ticks), [str(knob.at_strain(strain)) for strain in ticks])
    axes.set_xlabel("trial")
    axes.set_ylabel(f"{knob.label}, {knob.unit}")
    words = dict.fromkeys((mark_of(point.outcome).sign, mark_of(point.outcome).word) for point in picture.points)
    legend = "   ".join(f"{sign} {word}" for sign, word in words)
    axes.set_title(f"{picture.bracket.show(knob)}      {legend}", loc="left", size=9, color=INK[Role.TEXT])
    plain(axes)


def _draw_chance(axes: "Axes", picture: ClimbPicture) -> None:
    edge = picture.edge
    axes.set_title("chance of the edge", loc="left", size=9, color=INK[Role.MEASURED])
    if edge is None:
        axes.text(0.5, 0.5, "not known yet", transform=axes.transAxes, ha="center", color=INK[Role.UNKNOWN])
    else:
        cells = list(edge.cells(picture.strains[0] - 1, picture.strains[-1] + 1))
        axes.barh(
            [(start + end) / 2 for start, end, _ in cells],
            [chance for _, _, chance in cells],
            height=0.8 * edge.width,
            color=INK[Role.MEASURED],
        )
        before = list(edge.cells(picture.strains[0] - 1, picture.strains[-1] + 1, before=True))
        axes.plot(
            [chance for _, _, chance in before],
            [(start + end) / 2 for start, end, _ in before],
            color=INK[Role.FAINT],
            lw=0.8,
            ls=":",
        )
        axes.plot([0, 0], [edge.low, edge.high], color=INK[Role.TEXT], lw=4, solid_capstyle="butt")
        axes.set_xlabel(f"{picture.interval_text()}\n({edge.confidence:.0%})", size=8)
    plain(axes)


def _draw_rates(axes: "Axes", picture: ClimbPicture) -> None:
    """Hours to a failure with their interval, against what is tolerated."""
    axes.set_title("hours between errors", loc="left", size=9, color=INK[Role.MEASURED])
    if picture.edge is not None:
        strains = [rate.strain for rate in picture.rates]
        worst, middle, best = (
            [1 / getattr(rate, part) for rate in picture.rates] for part in ("high", "median", "low")
        )
        axes.fill_betweenx(strains, worst, best, color=INK[Role.MEASURED], alpha=0.2, lw=0)
        axes.plot(middle, strains, color=INK[Role.MEASURED], lw=1.4)
        axes.axvline(1 / picture.edge.tolerance.rate_per_h, color=INK[Role.LIT], lw=1.0, ls="--")
        axes.set_xscale("log")
        axes.set_xlim(1e-2, 1e5)
        axes.set_xticks([0.01, 1, 100, 10_000], ["0.01", "1", "100", "10k"])
        axes.minorticks_off()
        axes.set_xlabel(f"asked for: {picture.edge.tolerance.in_use()}", size=8)
    plain(axes)
