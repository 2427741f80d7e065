"""The workshop's rigs for whoever only looks: a page, and figures."""

from datetime import datetime

from tenaz.core.rigs.rig_line import RigLine
from tenaz.core.trials.due import FollowUp
from tenaz.journal.opening.opening import OpenBook
from tenaz.pictures.day.rigs import in_order
from tenaz.press.site import Site, SiteRig
from tenaz.workshop.looking.follow_ups import follow_ups
from tenaz.workshop.rigs.rig_list import rig_lines


def site_of(book: OpenBook, name: str, now: datetime) -> Site:
    """What is to be seen of all rigs; those that somebody is waited for come first."""
    lines = rig_lines(book.store, book.held_elsewhere, book.holder, now)
    later = follow_ups(book.store, now)
    rigs = tuple(_rig(place, line, later) for place, line in enumerate(in_order(lines), 1))
    written = f"written {now.astimezone():%d %b %Y %H:%M} from the book; it does not change by itself"
    return Site(name or "Workshop", written, rigs)


def _rig(place: int, line: RigLine, later: tuple[FollowUp, ...]) -> SiteRig:
    told = [
        ("owner", line.owner),
        ("asked of it", line.purpose),
        ("found", line.found),
        ("next", line.next_step),
        ("worked on by", line.held_by),
        ("story", line.story),
        *(("later", f"{one.what}: {one.why}") for one in later if one.rig == line.name),
    ]
    return SiteRig(
        f"rig-{place}", line.name, _what(line), line.state, line.failed, line.running, line.waits_for,
        tuple((word, text) for word, text in told if text),
    )  # fmt: skip


def _what(line: RigLine) -> str:
    """What is tried only in simulation is no result of a machine: it is said beside its name."""
    return f"{line.memory} · simulated" if line.benches and not any(one.real for one in line.benches) else line.memory
