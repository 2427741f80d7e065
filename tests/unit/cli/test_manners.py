"""Manners of the shell: statuses of one table, pipes that break, rigs that are not named, encodings without signs."""

import json
import re
import shlex
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from jsonschema import validate
from typer.testing import CliRunner

from tenaz.cli.app import app
from tenaz.cli.kit.as_json import FORMATS, FORMS_OF
from tenaz.cli.kit.man_pages import write_man_pages
from tenaz.cli.kit.statuses import STATUSES
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.engine.clock import RealClock
from tenaz.journal.opening.opening import open_book
from tests.unit.cli.test_every_command import demo
from tests.unit.cli.test_printed_commands import commands

__all__ = ["demo"]

SCHEMAS = Path(__file__).parents[3] / "docs/schemas/told"


@pytest.mark.parametrize("name", [" ".join(name) for name, _ in commands() if name != ("unpick",)])
def test_each_command_shows_an_example_and_its_statuses_of_one_table(name: str) -> None:
    told = " ".join(CliRunner().invoke(app, [*name.split(), "--help"]).stdout.replace("│", " ").split())
    assert f"tenaz {name}" in told
    told = told.partition("Exit status:")[2].partition("╭")[0].partition(". ")[0]
    named = {int(number) for number in re.findall(r"\b(\d{1,3})\b(?= [a-z])", told)}
    assert 0 in named, name
    assert named <= set(STATUSES), name


def tenaz(book: Path, *arguments: str, **environment: str) -> "subprocess.CompletedProcess[bytes]":
    command = [sys.executable, "-m", "tenaz", "--book", str(book), *arguments]
    return subprocess.run(command, capture_output=True, check=False, env={**environment, "PATH": "/usr/bin:/bin"})


def test_who_names_no_rig_is_told_which_it_is_and_works_on_the_last(demo: Path, tmp_path: Path) -> None:
    book = tmp_path / "book.db"
    shutil.copy(demo, book)
    ended = CliRunner().invoke(app, ["--book", str(book), "climb", "t-cl-nck", "--for", "10m", "--strategy", "halve"])
    assert "on ridge, bench sim: --rig names another" in ended.output
    opened = open_book(book, read_only=True)
    assert opened.store.searches.of("ridge")[-1].knobs == ("t_cl_nck",)
    opened.close()
    assert "--rig names another" not in CliRunner().invoke(app, ["--book", str(book), "end", "--rig", "ridge"]).output


def test_a_reader_who_has_had_enough_is_no_error(demo: Path) -> None:
    command = f"{sys.executable} -m tenaz --book {demo} book --json | head -c 10 > /dev/null; echo ${{PIPESTATUS[0]}}"
    ended = subprocess.run(["bash", "-c", command], capture_output=True, check=False, text=True)
    assert (ended.stdout.splitlines()[-1], ended.stderr) == ("0", "")


def test_an_encoding_without_a_sign_gets_a_stand_in(demo: Path) -> None:
    ascii_ = tenaz(demo, "margins", "--rig", "ridge", PYTHONIOENCODING="ascii", LC_ALL="C").stdout.decode("ascii")
    assert "data rate" in ascii_
    assert ascii_.count("?") < 3, ascii_


def completed(**environment: str) -> "subprocess.CompletedProcess[bytes]":
    """As a shell asks: the program by its name, with nothing behind it."""
    command = [str(Path(sys.executable).with_name("tenaz"))]
    return subprocess.run(command, capture_output=True, check=False, env={**environment, "PATH": "/usr/bin:/bin"})


@pytest.mark.parametrize(
    ("typed", "found"),
    [
        ("climb --rig sl", "sled"),
        ("climb --rig ridge t_r", "t_rcd_nck"),
        ("climb t_cl_nck --strategy ha", "halve"),
        ("load mar", "march"),
        ("load si", "sift"),
        ("night --rig ridge --from st", "stock"),
        ("night --rig rabbit --from st", ""),
    ],
)
def test_a_shell_completes_what_the_book_and_the_program_have(demo: Path, typed: str, found: str) -> None:
    words = f"tenaz --book {demo} {typed}"
    cwords = str(len(words.split()) - 1)
    bash = completed(_TENAZ_COMPLETE="complete_bash", COMP_WORDS=words, COMP_CWORD=cwords)
    assert found in bash.stdout.decode().split() or not found
    assert bash.stderr == b""
    if typed.endswith("sl"):
        asked = {"_TENAZ_COMPLETE": "complete_zsh", "_TYPER_COMPLETE_ARGS": words}
        assert f'"{found}"' in completed(**asked).stdout.decode()
        asked = {"_TENAZ_COMPLETE": "complete_fish", "_TYPER_COMPLETE_ARGS": words}
        assert completed(**asked, _TYPER_COMPLETE_FISH_ACTION="get-args").stdout.decode().split() == [found]


def test_a_man_page_is_made_of_each_commands_own_words(tmp_path: Path) -> None:
    write_man_pages(app, tmp_path)
    climb = (tmp_path / "tenaz-climb.1").read_text("utf-8")
    assert climb.startswith('.TH "TENAZ\\-CLIMB" 1')
    for heading in ("NAME", "SYNOPSIS", "DESCRIPTION", "OPTIONS", "EXIT STATUS"):
        assert f".SH {heading}" in climb
    assert "\\-\\-strategy" in climb
    names = {path.name for path in tmp_path.iterdir()}
    assert {f"tenaz-{'-'.join(name)}.1" for name, _ in commands() if name != ("unpick",)} | {"tenaz.1"} == names
    if shutil.which("man"):
        shown = subprocess.run(["man", "-l", str(tmp_path / "tenaz-climb.1")], capture_output=True, check=False)
        assert "Climb along a knob" in " ".join(shown.stdout.decode().split())


def test_columns_are_heeded_and_what_is_piped_is_not_cut(demo: Path) -> None:
    def widest(**environment: str) -> int:
        return max(map(len, tenaz(demo, "session", "--rig", "ridge", **environment).stdout.decode().splitlines()))

    assert widest(COLUMNS="70") <= 70
    assert widest() > 120
    assert "…" not in tenaz(demo, "session", "--rig", "ridge").stdout.decode()


JSON = {
    "chart --list": "searches",
    "climb t-cl-nck --rig ridge --for 10m --strategy halve": "climb",
    "end --rig ridge": "ended",
    "enter 'march 1h | held 1h' --dry": "entered",
    "plan --rig ridge --add 'data rate 6000 | march 4h'": "plan",
    "probe": "machine",
    "report --rig ridge": "report",
    "report --list": "reports",
    "rig ridge": "rig",
    "session --rig sled": "session",
    "sim list": "practice",
    "stick list": "devices",
    "study p --rigs 1 --strategy halve": "study",
    "trial 3 4": "trials",
    "book --rig ridge": "trials",
    "book failed": "trials",
    "book by:month": "counts",
    "drift --rig ridge": "drift",
    "drift --due": "due",
    "follow-ups": "follow-ups",
    "field data_rate_mts=3200..3600 t_cl_nck=22..20 --rig hut --for 10m": "field",
    "find --rig sled --bench sim": "find",
    "golden": "goldens",
    "load march --for 1s --share 1% --no-book": "load",
    "cards": "cards",
    "margins --rig ridge": "margins",
    "next --rig ridge": "next",
    "night --rig hut --hours 11": "night",
    "proof --test MATS+ --mode direct": "proof",
    "proof --card 0 --tries 1": "card-proof",
    "scores --rig ridge": "scores",
    "sheet --rig ridge": "sheet",
    "stick reached --rig ridge": "memory",
    "watch --every 0.1s --count 1": "sample",
    "words llc": "words",
}


def test_every_command_that_tells_something_has_json_of_a_form() -> None:
    has = {
        " ".join(name) for name, command in commands() if "--json" in [one for p in command.params for one in p.opts]
    }
    assert has - {"unpick"} == set(FORMS_OF)
    assert {form for forms in FORMS_OF.values() for form in forms} == set(FORMATS)
    acts = {"demo", "sim new", "sim fault", "sim do", "sim reveal", "stick make", "stick restore", "stick renew"}
    acts |= {"set confirm", "agent", "wire prepare", "wire add", "wire stop"}
    assert {" ".join(name) for name, _ in commands()} - has == acts


def test_a_command_is_as_loud_as_it_is_asked_to_be(demo: Path, tmp_path: Path) -> None:
    shutil.copy(demo, tmp_path / "book.db")
    said = {
        how: tenaz(tmp_path / "book.db", "climb", "t-cl-nck", "--for", "10m", "--rig", "hut", *how.split())
        for how in ("--strategy halve", "--strategy halve -q", "--strategy halve -v")
    }
    usual, quiet, all_ = (one.stderr.decode() for one in said.values())
    assert "loop" in usual
    assert quiet == ""
    assert f"book {tmp_path}" in all_
    assert all(b"advice:" in one.stdout for one in said.values())
    refused = tenaz(demo, "climb", "rabbit", "-q")
    assert (refused.returncode, b"rabbit" in refused.stderr) == (2, True)


@pytest.mark.xdist_group("loading")
@pytest.mark.parametrize("line", JSON)
def test_json_is_one_object_with_its_form_and_version(demo: Path, tmp_path: Path, line: str) -> None:
    book = tmp_path / "book.db"
    shutil.copy(demo, book)
    told = CliRunner().invoke(app, ["--book", str(book), *shlex.split(line), "--json"])
    text = told.stdout[told.stdout.index("{") :]
    data = json.loads(text.splitlines()[0] if JSON[line] in ("load", "sample") else text)
    assert (data["format"], data["version"]) == (f"tenaz/{JSON[line]}", 1)
    assert set(FORMATS) == {path.name.partition(".")[0] for path in SCHEMAS.iterdir()}, "each form is told of"
    objects = [json.loads(one) for one in text.splitlines()] if JSON[line] in ("load", "sample") else [data]
    for one in objects:
        validate(one, json.loads((SCHEMAS / f"{JSON[line]}.schema.json").read_text("utf-8")))
    instants = re.findall(r'"\d{4}-\d\d-\d\d[T ]\d\d:\d\d[^"]*"', text)
    assert all(re.search(r"T.*(\+00:00|Z)\"$", one) for one in instants), instants[:3]


def as_told(book: Path, *arguments: str) -> dict[str, object]:
    told = CliRunner().invoke(app, ["--book", str(book), *arguments, "--json"])
    found: dict[str, object] = json.loads(told.stdout[told.stdout.index("{") :])
    name = str(found["format"]).removeprefix("tenaz/")
    validate(found, json.loads((SCHEMAS / f"{name}.schema.json").read_text("utf-8")))
    return found


def test_forms_of_what_takes_more_than_a_line_hold_too(demo: Path, tmp_path: Path) -> None:
    book, one, other = tmp_path / "book.db", tmp_path / "one.toml", tmp_path / "other.toml"
    shutil.copy(demo, book)
    runner = CliRunner()
    for path, setpoint in ((one, "as it came"), (other, "")):
        asked = ["--setpoint", setpoint] if setpoint else []
        runner.invoke(app, ["--book", str(book), "sheet", "--rig", "ridge", *asked, "--out", str(path)])
    assert as_told(book, "sheet", str(one), str(other))["format"] == "tenaz/step"
    faster = "data rate 6800, tCL 30, tRCD 30 | march 10m | no boot"
    entered = runner.invoke(app, ["--book", str(book), "enter", faster, "--rig", "ridge"])
    number = str(json.loads(runner.invoke(app, ["--book", str(book), "book", "--json"]).stdout)["trials"][-1]["number"])
    assert entered.exit_code == 0
    runner.invoke(app, ["--book", str(book), "end", "--rig", "ridge"])
    found = as_told(book, "culprit", number, "--rig", "ridge", "--for", "10m")
    assert found["among"] == ["data_rate_mts", "t_cl_nck", "t_rcd_nck"]
    opened = open_book(book)
    rig = opened.store.rigs.one("hut")
    cut = opened.store.trials.begin(rig, BenchKind.HAND, rig.stock, LoadPlan(LoadKind.MARCH), RealClock())
    opened.close()
    assert as_told(book, "seen")["number"] == cut.number
    assert as_told(book, "seen", "froze")["outcome"] == "froze"


def test_trials_have_one_shape_with_and_without_words(demo: Path) -> None:
    def asked(*words: str) -> list[dict[str, object]]:
        told = CliRunner().invoke(app, ["--book", str(demo), "book", "--rig", "ridge", *words, "--json"])
        found: list[dict[str, object]] = json.loads(told.stdout)["trials"]
        return found

    assert asked("held", "failed") == []
    assert [one for one in asked() if one["outcome"] == "no boot"] == asked("no-boot")
