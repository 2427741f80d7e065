"""What ``tenaz book`` does besides listing trials: a word, and what it takes."""

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.cli.kit.options import note, say
from tenaz.core.base.errors import BookError, Refused

if TYPE_CHECKING:
    from tenaz.journal.feed.meeting import Met
    from tenaz.journal.opening.opening import OpenBook
    from tenaz.journal.store import Store


DAY_S = 86_400.0


@dataclass(frozen=True, slots=True)
class Verb:
    """What it does with a book (None: the usual one) and the words behind it; how many of these, and how it is typed.
    Gives the status to end with.
    """

    does: Callable[[str | None, Sequence[str]], int]
    takes: tuple[int, ...]
    typed: str


def verb_of(words: Sequence[str]) -> Verb | None:
    """The verb that words begin with; None: they ask for trials.

    Raises:
        Refused: it is one, with words behind it that it does not take.
    """
    verb = VERBS.get(words[0]) if words else None
    if verb is None:
        return None
    if len(words) - 1 not in verb.takes:
        raise Refused(f"{words[0]} is typed so: tenaz book {verb.typed}")
    return verb


def _merge(place: str | None, words: Sequence[str]) -> int:
    """Bring the book of a stick into this one."""
    from tenaz.workshop.errands.carrying_back import merge_book

    with _open(place) as opened:
        if opened.store.read_only:
            raise Refused(f"Nothing was brought: {opened.store.read_only}")
        came = merge_book(Path(words[0]), opened.store)
    say("\n".join(one.show() for one in came) or "That book holds no trial: there is nothing to bring.")
    return 0


def _check(place: str | None, _: Sequence[str]) -> int:
    from tenaz.journal.keeping.checking import check_book

    with _open(place, read_only=True) as opened:
        found = check_book(opened.store, lambda what: note(f"looking at {what} …"))
        trials = sum(opened.store.trials.count(name) for name in opened.store.rigs.names())
        if found:
            say("\n".join(found))
            return 1
        say(f"{opened.store.place} is whole: {len(opened.store.rigs.names())} rigs, {trials} trials")
    return 0


def _backup(place: str | None, words: Sequence[str]) -> int:
    from tenaz.core.base.amounts import show_bytes
    from tenaz.journal.keeping.copying import back_up

    out = Path(words[0])
    with _open(place, read_only=True) as opened:
        size = back_up(opened.store, out)
        behind = opened.feeding is not None and not opened.feeding.state.answers
        say(f"written: {out.absolute()}, {show_bytes(size)}")
        if behind and opened.feeding is not None:
            say(f"It is this machine's copy: {opened.feeding.state.show()}", err=True)
            return 1
    return 0


def _restore(place: str | None, words: Sequence[str]) -> int:
    from tenaz.journal.keeping.copying import put_back, put_back_on_server
    from tenaz.journal.opening.places import default_place

    where = str(place or default_place())
    saved = Path(words[0])
    if not saved.is_file():
        raise Refused(f"There is no copy of a book at {saved}.")
    if "://" in where:
        with _book_itself(where) as home:
            put_back_on_server(saved, home, _heard)
    else:
        put_back(saved, Path(where))
    say(f"put back: {where}")
    return 0


def _away(place: str | None, words: Sequence[str]) -> int:
    from tenaz.journal.keeping.copying import COMES, take_along
    from tenaz.journal.opening.places import default_place

    where, out = str(place or default_place()), Path(words[0])
    address = where if "://" in where else str(Path(where).absolute())
    with _book_itself(where) as home:
        take_along(home, out, address, _heard)
    say(f"written: {out.absolute()}. Work on it with --book {out}; it comes home by: {COMES.replace('FILE', str(out))}")
    return 0


def _home(place: str | None, words: Sequence[str]) -> int:
    from tenaz.journal.keeping.copying import address_of_home, meet
    from tenaz.journal.opening.identity import own_identity

    with _open(place) as away:
        if away.feeding is not None:
            say(away.feeding.state.show())
            return int(not away.feeding.state.answers)
        if away.store.read_only:
            raise Refused(f"Nothing comes home: {away.store.read_only}")
        if away.runs_anywhere():
            raise BookError("Something is worked on in this book now: end that first, then it comes home.")
        where = words[0] if words else address_of_home(away.store)
        own_identity(away.store.database, Path(away.store.place))
        if "://" not in where and not Path(where).exists():
            raise Refused(f"Its home {where} is not there; name it: tenaz book home PLACE")
        with _book_itself(where) as home:
            met = meet(away.store, home, _heard)
    told, taken = sum(one.told for one in met), sum(one.taken for one in met)
    say(f"home again at {where}: {told} told there, {taken} taken from there")
    for _, old, new in (line for one in met for line in one.renumbered):
        say(f"trial {old} is {new} now: there was another of that number")
    for line in (line for one in met for line in one.gave_way):
        say(f"kept beside: {line}")
    return 0


def _beside(place: str | None, words: Sequence[str]) -> int:
    with _open(place, read_only=not words) as opened:
        if words:
            what, number = words
            if what not in ("take", "settle") or not number.isdigit():
                raise Refused(f"{' '.join(words)!r} is none of these: tenaz book {VERBS['beside'].typed}")
            take = opened.store.beside.take if what == "take" else opened.store.beside.settle
            take(int(number))
            return 0
        waiting = [one for one in opened.store.beside.all() if not one.settled]
        for one in waiting:
            ways = "take or settle" if one.takes else "settle"
            of = f"{one.rig} · " if one.rig else ""
            say(f"{one.id:>4}  {one.at_utc.astimezone():%d %b %Y %H:%M}  {of}{one.text}  ({ways})")
        if not waiting:
            say("Nothing was kept beside: no two books have changed the same thing.")
    return 0


def _roles(_: str | None, __: Sequence[str]) -> int:
    from tenaz.journal.opening.roles import roles_sql

    say(roles_sql(), nl=False)
    return 0


def _thin(place: str | None, words: Sequence[str]) -> int:
    from datetime import UTC, datetime, timedelta

    from tenaz.core.base.amounts import show_bytes
    from tenaz.core.base.typed import parse_duration_s
    from tenaz.journal.keeping.thinning import thin

    older_s = parse_duration_s(words[0])
    if older_s < DAY_S:
        raise Refused(f"{words[0]} is less than a day: what is so young is not thinned. Type it like 90d.")
    with _open(place) as opened:
        if opened.store.read_only:
            raise Refused(f"Nothing was thinned: {opened.store.read_only}")
        done = thin(opened.store, datetime.now(UTC) - timedelta(seconds=older_s))
    say(
        f"{done.chunks} stretches of telemetry: {done.samples} samples, {done.kept} kept; "
        f"{show_bytes(done.size)}, now {show_bytes(done.size_kept)}. Records stay as they are."
    )
    return 0


def _alike(place: str | None, words: Sequence[str]) -> int:
    from tenaz.core.trials.querying import made_of
    from tenaz.pictures.alike.cells import alike_lines
    from tenaz.workshop.looking.rigs_alike import alike_of

    asked = words[0].removeprefix("part:").strip()
    if not asked:
        raise Refused(f"Say which part, by a word of its name: tenaz book {VERBS['alike'].typed}")
    with _open(place, read_only=True) as opened:
        having = [one for one in opened.store.rigs.all() if made_of(one, asked.lower())]
        if not having:
            raise Refused(f"No rig of the book has {asked!r} among its parts; tenaz rig tells what each is made of.")
        counts = {one.name: opened.store.trials.count(one.name) for one in having}
        mine = max(having, key=lambda one: counts[one.name])
        newest = opened.store.trials.newest_of(mine.name)
        real = newest.bench.real if newest is not None else False
        picture = alike_of(opened.store, mine, real, asked)
    told = alike_lines(picture)
    say(f"beside {mine.name}, {'in simulation' if picture.simulated else 'on real machines'}")
    say("\n".join(told))
    return 0


def _site(place: str | None, words: Sequence[str]) -> int:
    from datetime import UTC, datetime

    from tenaz.catalogues.writing import write_whole
    from tenaz.press.site import as_page
    from tenaz.settings.files import read_settings
    from tenaz.workshop.errands.site import site_of

    out = Path(words[0])
    out = out / "index.html" if out.is_dir() or not out.suffix else out
    with _open(place, read_only=True) as opened:
        site = site_of(opened, read_settings().workshop.name, datetime.now(UTC))
    out.parent.mkdir(parents=True, exist_ok=True)
    write_whole(out, as_page(site), for_all=True)
    say(f"written: {out.absolute()}, {len(site.rigs)} rigs")
    return 0


def _figures(place: str | None, words: Sequence[str]) -> int:
    from datetime import UTC, datetime

    from tenaz.announcing.figures import as_text, write_figures
    from tenaz.workshop.looking.figures import figures_of

    with _open(place, read_only=True) as opened:
        figures = figures_of(opened.store, datetime.now(UTC))
    if words:
        write_figures(Path(words[0]), figures)
        say(f"written: {Path(words[0]).absolute()}")
    else:
        say(as_text(figures).decode(), nl=False)
    return 0


@contextmanager
def _book_itself(where: str) -> "Iterator[Store]":
    """A book at its own place, in a file or on a server: no working copy of it."""
    if "://" not in where:
        with _open(where) as opened:
            yield opened.store
        return
    from tenaz.journal.opening.addresses import server_address
    from tenaz.journal.opening.server import open_on_server

    home = open_on_server(server_address(where))
    try:
        yield home
    finally:
        home.close()


def _heard(met: "Met") -> None:
    if met.more:
        note(".", nl=False)


@contextmanager
def _open(place: str | None, read_only: bool = False) -> "Iterator[OpenBook]":
    """A book opened for as long as a verb takes."""
    from tenaz.journal.opening.opening import open_book

    opened = open_book(place, read_only)
    try:
        yield opened
    finally:
        opened.close()


VERBS = {
    "merge": Verb(_merge, (1,), "merge FOLDER_OR_FILE"),
    "check": Verb(_check, (0,), "check"),
    "backup": Verb(_backup, (1,), "backup FILE"),
    "restore": Verb(_restore, (1,), "restore FILE"),
    "away": Verb(_away, (1,), "away FILE"),
    "home": Verb(_home, (0, 1), "home [PLACE]"),
    "beside": Verb(_beside, (0, 2), "beside [take N | settle N]"),
    "alike": Verb(_alike, (1,), "alike part:WORDS"),
    "site": Verb(_site, (1,), "site FOLDER"),
    "figures": Verb(_figures, (0, 1), "figures [FILE.prom]"),
    "roles": Verb(_roles, (0,), "roles"),
    "thin": Verb(_thin, (1,), "thin AGE      (like 90d: telemetry older than that)"),
}
