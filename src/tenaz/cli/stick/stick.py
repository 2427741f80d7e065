"""``tenaz stick``: the medium that brings Tenaz to a machine without a system: made, listed, undone, renewed."""

import signal
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.loudness import is_quiet
from tenaz.cli.kit.opened import JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, errors_told, leave, say
from tenaz.core.base.errors import Refused

if TYPE_CHECKING:
    from tenaz.stick.image import Step
    from tenaz.stick.making import StickMaker

stick = typer.Typer(
    no_args_is_help=True,
    help="A stick that boots a machine straight into Tenaz: make it, restore it, see what memory was reached.",
    context_settings={"help_option_names": ["-h", "--help"]},
)
CacheOption = Annotated[Path | None, typer.Option("--cache", help="Where fetched packages are kept.", metavar="FOLDER")]
NameOption = Annotated[
    str, typer.Option("--name", help="The device's name, as the list tells it: it says that erasing it is meant.")
]


@stick.command("list")
def list_(as_json: JsonOption = False) -> None:
    """List the devices that a stick can be made of: removable, and used by nobody.

    Examples:

        tenaz stick list

    Exit status: 0 listed, 2 could not be.
    """
    from tenaz.stick.devices import all_devices

    known = [one for one in all_devices() if one.removable]
    if as_json:
        rows = [
            {"path": str(one.path), "name": one.name, "size_bytes": one.size_bytes, "holds": list(one.parts)}
            for one in known
        ]
        say_object("devices", {"devices": rows})
        return
    for one in known:
        say(one.show())
    if not known:
        say("There is no removable device here.")


@stick.command()
def make(
    target: Annotated[str, typer.Argument(help="An image file to write, or a removable device like /dev/sdX.")],
    name: NameOption = "",
    cache: CacheOption = None,
    mirror: Annotated[
        str, typer.Option("--mirror", help="A mirror of Debian, where this machine knows none.", metavar="URL")
    ] = "",
    lock: Annotated[
        Path | None, typer.Option("--lock", help="Another list of packages, from tenaz stick renew.", metavar="FILE")
    ] = None,
    replace: Annotated[
        bool, typer.Option("--replace", help="Write over a file that is there and is no image.")
    ] = False,
    answers: Annotated[
        str,
        typer.Option("--answers", help="Answer a workbench elsewhere on this serial line.", metavar="ttyS0"),
    ] = "",
) -> None:
    """Make a stick: an image file (nobody needs to be root for that), or a device, all of which is erased.

    Examples:

        tenaz stick make tenaz.img
        tenaz stick list
        sudo tenaz stick make /dev/sdX --name "Maker Model"
        tenaz stick make bench-3.img --answers ttyS0    # a rig across a wire without a system of its own

    What is fetched stays in the cache; the same list of packages gives the same bytes. Exit status: 0 made, 2 could
    not be made, 130 stopped; nothing half done is left.
    """
    from tenaz.stick.cache import Cancelled
    from tenaz.stick.lock import read_lock
    from tenaz.stick.making import StickMaker
    from tenaz.stick.writing import write_device

    with errors_told(), _told() as tell:
        maker = StickMaker(read_lock(lock) if lock else None, cache, mirror, tell, answers)
        try:
            with _stops(maker):
                if target.startswith("/dev/"):
                    given = name or _asked_name(Path(target))
                    size = write_device(maker, Path(target), given, tell)
                else:
                    size = maker.image(Path(target), replace=replace)
        except Cancelled:
            leave("Stopped; nothing half done is left.", STOPPED_BY_HAND)
    say(f"written: {target}, {size / 2**20:.0f} MiB")


@stick.command()
def restore(
    target: Annotated[str, typer.Argument(help="The device, like /dev/sdX.")],
    name: NameOption = "",
) -> None:
    """Make an ordinary stick of it again: one empty partition that any system reads. All that is on it is lost.

    Examples:

        sudo tenaz stick restore /dev/sdX

    Exit status: 0 done, 2 could not be.
    """
    from tenaz.stick.writing import restore as restore_device

    with errors_told():
        said = restore_device(Path(target), name or _asked_name(Path(target)))
    say(said)


@stick.command()
def renew(
    out: Annotated[Path, typer.Argument(help="The list to write, ending in .toml.")] = Path("stick.toml"),
    constraints: Annotated[
        Path | None, typer.Option("--constraint", help="Versions of Python packages to keep to.", metavar="FILE")
    ] = None,
) -> None:
    """Make a new list of packages, with the newest that Debian 12 and the Python index have (on Debian 12).

    Examples:

        tenaz stick renew --constraint constraints.txt

    Exit status: 0 done, 2 could not be.
    """
    from tenaz.catalogues.writing import write_whole
    from tenaz.stick.renewing import renewed_lock

    with errors_told():
        made = renewed_lock(constraints)
        write_whole(out, made.as_toml())
    say(f"{len(made.packages)} packages and {len(made.wheels)} wheels: {out.absolute()}; use it with --lock {out}")


@stick.command()
def reached(
    context: typer.Context,
    rig: RigOption = "",
    as_json: Annotated[bool, typer.Option("--json", help="As JSON: spans of addresses, and what each is.")] = False,
    book: BookOption = None,
) -> None:
    """Show how much of a rig's physical memory its loads have reached.

    Examples:

        tenaz stick reached --rig ridge

    Exit status: 0 told, 2 could not be.
    """
    from tenaz.pictures.memory.build import memory_picture
    from tenaz.pictures.memory.cells import draw_memory

    with book_opened(context, book, read_only=True) as workshop:
        picture = memory_picture(workshop.store, workshop.store.rigs.one(rig) if rig else workshop.rig)
    if as_json:
        coverage = picture.coverage
        spans = [
            {"start": one.span.start, "end": one.span.end, "is": one.kind.value, "times": one.times}
            for one in (coverage.pieces if coverage else ())
        ]
        share = round(coverage.share, 6) if coverage else None
        rig_name = picture.title.partition(": ")[2]
        say_object("memory", {"rig": rig_name, "share": share, "spans": spans, "wrong": list(picture.wrong)})
        return
    rows = draw_memory(picture, 96, 48).rows()
    lines = ["".join(run.text for run in row).rstrip() for row in rows]
    say("\n".join(lines).rstrip())


def _asked_name(path: Path) -> str:
    """The name of the device, typed by who was told what will be erased."""
    from tenaz.stick.devices import device

    found = device(path)
    if not sys.stdin.isatty():
        raise Refused(f"{found.show()}: all of it would be erased. If it is meant: --name {found.name!r}")
    say(f"{found.show()}\nAll that is on it will be erased. If that is meant, type its name ({found.name}):")
    return input().strip()


@contextmanager
def _told() -> "Iterator[Callable[[Step], None]]":
    """A bar on standard error."""
    from rich.console import Console
    from rich.progress import BarColumn, Progress, TextColumn

    bar = Progress(
        TextColumn("{task.description}"),
        BarColumn(bar_width=30),
        TextColumn("{task.fields[left]}"),
        console=Console(stderr=True, highlight=False, quiet=is_quiet()),
        transient=True,
    )
    task = bar.add_task("", total=1.0, left="")

    def tell(step: "Step") -> None:
        left = f"about {step.left_s:.0f} s left" if step.left_s else ""
        bar.update(task, description=step.doing[:40], completed=step.part, left=left)

    with bar:
        yield tell


@contextmanager
def _stops(maker: "StickMaker") -> Iterator[None]:
    """An interrupt stops the making in order."""
    before = signal.signal(signal.SIGINT, lambda *_: maker.stop.set())
    try:
        yield
    finally:
        signal.signal(signal.SIGINT, before)
