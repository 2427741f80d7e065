"""``tenaz probe``: take in this machine. ``tenaz rig``: what a rig is, to look at, save, edit and read in."""

from collections import Counter
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.opened import book_opened
from tenaz.cli.kit.options import BookOption, errors_told, say
from tenaz.core.base.errors import Refused

if TYPE_CHECKING:
    from tenaz.core.machine.machine import Machine
    from tenaz.core.rigs.rig import Rig
    from tenaz.workshop.shop.shop import Workshop

SaveOption = Annotated[
    Path | None, typer.Option("--out", "--save", help="Write it as JSON to this file.", metavar="FILE")
]
JsonOption = Annotated[bool, typer.Option("--json", help="Print it as JSON.")]


def probe(save: SaveOption = None, as_json: JsonOption = False) -> None:
    """Read what this machine is, and point out what is off stock. As root more can be read.

    Examples:

        sudo tenaz probe
        tenaz probe --save rig.json      # carry it over on a stick: tenaz rig --from rig.json

    What could not be read is listed with its reason.

    Exit status: 0 told or saved, 2 could not be.
    """
    from tenaz.catalogues.writing import write_whole
    from tenaz.papers.rig_files import machine_to_text
    from tenaz.probe.here import read_machine

    machine = read_machine()
    with errors_told():
        if save is not None:
            write_whole(save, machine_to_text(machine))
            say(f"written: {save.absolute()}")
    if as_json:
        say(machine_to_text(machine))
    elif save is None:
        say("\n".join(_lines(machine)))


def rig(
    context: typer.Context,
    name: Annotated[
        str | None,
        typer.Argument(
            help="Which rig; else all of the book.",
            autocompletion=completing.rigs,
        ),
    ] = None,
    source: Annotated[
        Path | None,
        typer.Option("--read", "--from", help="Read a rig or a probed machine from this file.", metavar="FILE"),
    ] = None,
    knobs: Annotated[
        str | None,
        typer.Option(
            "--knobs", help="Add a catalogue's knobs: processor, graphics, or a board's file.", metavar="WHICH"
        ),
    ] = None,
    save: SaveOption = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Show a rig; or read one in from a file, new or edited.

    Examples:

        tenaz rig
        tenaz rig ridge --save ridge.json    # edit owner, complaint, purpose, ceilings …
        tenaz rig --from ridge.json          # … and read it in again
        tenaz rig "back office" --from stick/rig.json
        tenaz rig ridge --knobs pizarra-p2.toml  # the board's own spelling, ranges, dead knobs

    A file is checked as it is read in; one that is no rig changes nothing.

    Exit status: 0 shown or read in, 2 could not be.
    """
    from tenaz.catalogues.reading import read_catalogue
    from tenaz.catalogues.writing import write_whole
    from tenaz.intake.rig_knobs import with_catalogue
    from tenaz.orders import KeepRig
    from tenaz.papers.rig_files import read_rig, rig_to_text

    with book_opened(context, book) as workshop:
        if source is not None:
            read = read_rig(source, name or "")
            workshop.do(KeepRig(read))
            rigs = [read]
        else:
            rigs = [workshop.store.rigs.one(name)] if name else list(workshop.store.rigs.all())
            holders = {one.name: _holder(workshop, one.name) for one in rigs}
        if knobs is not None:
            if name is None and source is None:
                raise Refused("Name the rig that gets these knobs.")
            rigs = [with_catalogue(rigs[0], read_catalogue(knobs), knobs)]
            workshop.do(KeepRig(rigs[0]))
        if save is not None:
            write_whole(save, rig_to_text(rigs[0]))
            say(f"written: {save.absolute()}")
    if as_json:
        say(rig_to_text(rigs[0]) if name or source else f"[{', '.join(map(rig_to_text, rigs))}]")
    elif save is None:
        say("\n\n".join("\n".join(_rig_lines(one, holders.get(one.name, ""))) for one in rigs))


def _holder(workshop: "Workshop", rig: str) -> str:
    """Who else works on a rig now; empty: nobody."""
    if not workshop.at.runs_on(rig):
        return ""
    return workshop.at.holder(rig) or "another Tenaz"


def _rig_lines(rig: "Rig", held_by: str = "") -> list[str]:
    lines = [f"{rig.name}   for: {rig.purpose.name}   reached by: {', '.join(rig.benches)}"]
    for what, text in (
        ("worked on by", held_by),
        ("owner", rig.owner),
        ("complaint", rig.complaint),
        ("by eye", rig.by_eye),
        ("guarantee", f"{rig.guarantee_months} months" if rig.guarantee_months else ""),
        *(() if rig.machine else (("processor", rig.processor), ("cores", str(rig.cores_known or "")), *rig.parts)),
    ):
        if text:
            lines.append(f"  {what:<11} {text}")
    for knob in rig.knobs:
        lines.append(f"  {knob.label:<11} {knob.show(rig.stock[knob.name])} at stock")
    if rig.machine is not None:
        lines += [f"  {line}" for line in _lines(rig.machine)]
    return lines


def _lines(machine: "Machine") -> list[str]:
    """A machine in lines: what was read, what is pointed out, what could not be read."""
    from tenaz.core.machine.intake import look_over
    from tenaz.core.machine.machine import show_bytes
    from tenaz.core.machine.profiles import profile_in_words, profiles_of

    threads = sum(len(core.threads) for core in machine.cores)
    clocks = f", up to {machine.highest_mhz} MHz" if machine.highest_mhz else ""
    lines = [
        f"processor   {machine.processor or 'unknown'}",
        f"cores       {len(machine.cores) or 'unknown'} with {threads} threads{clocks}",
        f"board       {machine.board or 'unknown'}",
        f"firmware    {machine.firmware or 'unknown'}, {machine.boot_mode} boot",
        f"memory      {machine.memory_bytes / 2**30:.1f} GiB seen" if machine.memory_bytes else "memory      unknown",
    ]
    for (level, kind, size), count in Counter((c.name, c.kind, c.size_bytes) for c in machine.caches).items():
        lines.append(f"cache       {level} {kind}, {show_bytes(size)}" + (f" × {count}" if count > 1 else ""))
    for module in machine.modules:
        channel = f"channel {module.channel or '?'}"
        lines.append(f"  slot {module.slot:<8} {channel}  " + (_module_line(module) if module.fitted else "empty"))
    for spd in machine.spds:
        lines.append(f"  SPD {spd.part or spd.serial}: {spd.kind}, base {spd.rated_mts} MT/s, checksum {spd.check}")
        lines += [f"    {spd.dies}"] if spd.dies else []
        lines += ["    more profiles are stored, in no open format"] if spd.vendor_block else []
    lines += [f"profile     {one.name}: {one.show()}" for one in profiles_of(machine)]
    lines += [f"set now     {words}"] if (words := profile_in_words(machine)) else []
    lines += [f"register    {one.knob} {one.value}, by {one.by}" for one in machine.registers]
    for limit in machine.limits:
        usual = f", usually {limit.usual}" if limit.usual is not None else ""
        lines.append(f"limit       {limit.name} {limit.value}{usual}")
    for device in machine.graphics:
        lines.append(f"graphics    {device.slot}  {device.vendor_id:04x}:{device.device_id:04x}")
    lines += [f"{finding.weight}: {finding.text} ({finding.reason})" for finding in look_over(machine)]
    lines += [f"not read    {unread.show()}" for unread in machine.unread]
    return lines


def _module_line(module) -> str:  # type: ignore[no-untyped-def] # MemoryModule, not imported for --help
    size = f"{module.size_bytes / 2**30:.0f} GiB" if module.size_bytes else "?"
    rates = f"{module.present_mts or '?'} MT/s, rated {module.rated_mts or '?'}"
    ranks = f", {module.ranks} rank{'s' if module.ranks != 1 else ''}" if module.ranks else ""
    return f"{size} {module.kind} {module.maker} {module.part}, {rates}{ranks}".replace("  ", " ")
