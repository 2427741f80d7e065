"""The Cycle picture on paper: SVG or PDF, from the same model as on the screen."""

from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.pictures.cycle.model import CommandLane, CyclePicture, Refresh, TimingSpan
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.paper import figure_to, plain
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.pictures.drawing.roles import LIGHT as INK
from tenaz.press.size import PaperSize

if TYPE_CHECKING:
    from matplotlib.axes import Axes

MOST_TICKS = 10
ROW = 1.0
"""Height of a row of timings; everything else is in parts of it."""
COMMAND_WORDS = {"A": "activate", "R": "read", "W": "write", "P": "precharge"}
LEGEND = "A activate   R read   W write   P precharge   filled: data   thick mark: least by the other timings"
LEAST_ROOM_A_LETTER = 0.0085
"""Share of the picture's length that a letter needs."""


def export_cycle(picture: CyclePicture, path: Path, head: PaperHead, size: PaperSize = PaperSize.A4) -> None:
    """Write the picture to ``path``; its ending says in which format.

    Raises:
        TenazError: an ending that is not known, or a file that cannot be written.
    """
    rows = sum(len(lane.rows) + 2.2 for lane in picture.lanes)
    times = [f"{name} {time_ns:.1f} ns" for name, time_ns in picture.figures.times_ns]
    told = f"One row cycle: {', '.join(times)}"
    with figure_to(path, 11.0, 2.7 + 0.36 * max(3.0, rows), head, told, size) as figure:
        cycle, refresh = figure.subplots(2, 1, height_ratios=(max(3.0, rows), 1.4))
        _lanes(cycle, picture)
        _refreshes(refresh, picture)
        f = picture.figures
        words = "   ".join([*times, f"peak {f.peak_gb_s:.1f} GB/s a channel"])
        beneath = f"      faint: {picture.ghost_name}" if picture.ghost_name else ""
        cycle.set_title(words + beneath, loc="left", size=9, color=INK[Role.MEASURED])
        said = "\n".join([LEGEND, *_remarks(picture)])
        refresh.set_xlabel(said, loc="left", size=8, color=INK[Role.TEXT], linespacing=1.4)


def _lanes(axes: "Axes", picture: CyclePicture) -> None:
    at = 0.0
    for lane in picture.lanes:
        axes.text(-0.012 * picture.length_ns, at, lane.name, ha="right", va="center", size=9, color=INK[Role.TEXT])
        _commands(axes, lane, at)
        for row in lane.rows:
            at += ROW
            for stretch in row:
                _stretch(axes, stretch, at, picture)
        ghost = picture.ghost_of(lane)
        if ghost is not None:
            at += 0.8 * ROW
            _commands(axes, ghost, at, ghost=True)
        at += 1.4 * ROW
    axes.set_xlim(-0.1 * picture.length_ns, picture.length_ns * 1.02)
    axes.set_ylim(at - 0.6 * ROW, -0.8 * ROW)
    axes.set_yticks([])
    axes.set_xlabel("ns", size=8)
    if picture.missing:
        axes.text(0, at - ROW, f"on auto, so not drawn: {', '.join(picture.missing)}", size=8, color=INK[Role.UNKNOWN])
    step = next(step for step in (1, 2, 5, 10, 20, 50, 100) if picture.length_ns / step <= MOST_TICKS or step == 100)
    axes.set_xticks(range(0, int(picture.length_ns) + 1, step))
    plain(axes, "x")
    axes.spines["left"].set_visible(False)


def _remarks(picture: CyclePicture) -> list[str]:
    """What is the matter with any timing that is drawn, a line each."""
    stretches = [stretch for lane in picture.lanes for row in lane.rows for stretch in row]
    return list(
        dict.fromkeys(f"{s.label} {s.clocks}, {s.remark.standing}: {s.remark.text}" for s in stretches if s.remark)
    )


def _commands(axes: "Axes", lane: CommandLane, at: float, ghost: bool = False) -> None:
    role = Role.FRAME if ghost else Role.TEXT
    first, last = lane.commands[0].at_ns, max(one.until_ns or one.at_ns for one in lane.commands)
    axes.plot([first, last], [at, at], color=INK[Role.FRAME], lw=0.8, ls="--" if ghost else "-", zorder=1)
    for command in lane.commands:
        if command.until_ns is not None:
            length = command.until_ns - command.at_ns
            colour = INK[Role.FRAME if ghost else Role.MEASURED]
            axes.barh(at, length, left=command.at_ns, height=0.42, color=colour, zorder=2)
        else:
            box = {"boxstyle": "round,pad=0.2", "fc": "white", "ec": INK[role], "lw": 0.8}
            axes.text(
                command.at_ns, at, command.letter, ha="center", va="center", size=6 if ghost else 8,
                color=INK[Role.FAINT if ghost else Role.TEXT], bbox=box, zorder=3,
                gid=f"{'compared-' if ghost else ''}{lane.name}-{COMMAND_WORDS[command.letter]}",
            )  # fmt: skip


def _stretch(axes: "Axes", stretch: TimingSpan, at: float, picture: CyclePicture) -> None:
    """A measured stretch with its name, clocks and time; a mark where its dependent minimum lies."""
    role = Role.LIT if stretch.name == picture.selected else Role.HELD
    if stretch.remark is not None:
        role = Role.FAILED
    length = stretch.end_ns - stretch.start_ns
    axes.plot([stretch.start_ns, stretch.end_ns], [at, at], color=INK[role], lw=1.6, solid_capstyle="butt", zorder=2)
    for end in (stretch.start_ns, stretch.end_ns):
        axes.plot([end, end], [at - 0.22, at + 0.22], color=INK[role], lw=1.2, zorder=2)
    for words in (f"{stretch.label} {stretch.clocks} · {length:.1f} ns", f"{stretch.label} {stretch.clocks}",
                  stretch.label):  # fmt: skip
        if len(words) * LEAST_ROOM_A_LETTER * picture.length_ns <= length:
            box = {"boxstyle": "square,pad=0.1", "fc": "white", "ec": "none"}
            middle = (stretch.start_ns + stretch.end_ns) / 2
            axes.text(middle, at, words, ha="center", va="center", size=7.5, color=INK[role], bbox=box, zorder=3)
            break
    else:
        axes.text(stretch.start_ns, at - 0.32, stretch.label, size=5.5, color=INK[role], va="bottom")
    if stretch.least_end_ns is not None:
        least = stretch.least_end_ns
        axes.plot([stretch.end_ns, least], [at, at], color=INK[Role.UNKNOWN], lw=0.8, ls=":", zorder=1)
        axes.plot([least, least], [at - 0.34, at + 0.34], color=INK[Role.TEXT], lw=2.2, zorder=4)


def _refreshes(axes: "Axes", picture: CyclePicture) -> None:
    """Refresh on a scale of its own: the whole width is the longer interval."""
    both = [(one, ghost) for one, ghost in ((picture.refresh, False), (picture.ghost_refresh, True)) if one is not None]
    for place, (one, ghost) in enumerate(both):
        axes.barh(place, one.takes_ns, height=0.5, color=INK[Role.FRAME if ghost else Role.MEASURED])
        axes.plot([one.every_ns] * 2, [place - 0.3, place + 0.3], color=INK[Role.FRAME if ghost else Role.TEXT], lw=1)
        axes.text(one.takes_ns * 1.15, place, _refresh_words(one), va="center", size=8,
                  color=INK[Role.FAINT if ghost else Role.TEXT])  # fmt: skip
    longest = max((one.every_ns for one, _ in both), default=1.0)
    axes.set_xlim(-0.1 * longest, longest * 1.02)
    axes.set_ylim(max(1, len(both)) - 0.4, -0.6)
    axes.set_yticks([0], ["refresh"])
    plain(axes, "x")
    axes.spines["left"].set_visible(False)


def _refresh_words(refresh: Refresh) -> str:
    return f"{refresh.takes_ns:.0f} ns each {refresh.every_ns / 1000:.2f} µs, {refresh.lost:.1%} of the time"
