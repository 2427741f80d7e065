import contextlib
import json
import os
import re
import subprocess
import sys
import time
from dataclasses import replace
from pathlib import Path

import psutil
import pytest
from typer.testing import CliRunner, Result

from tenaz.cli.app import app
from tenaz.cli.kit.commands_text import commands_text
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.engine.clock import RealClock
from tenaz.journal.opening.opening import open_book
from tests.doors.flip import flip_bit, largest_block
from tests.patience import PATIENCE_S

SHARE = "2%"


def tenaz(book: Path, *arguments: str) -> Result:
    return CliRunner().invoke(app, ["--book", str(book), *arguments])


def test_a_climb_a_list_and_a_chart(book: Path, tmp_path: Path) -> None:
    climbed = tenaz(book, "climb", "data-rate", "--rig", "ridge", "--seed", "5", "--for", "30m", "--strategy", "stride")
    assert climbed.exit_code == 0
    assert re.search(r"data rate: held \d+ · failed \d+ MT/s", climbed.stdout)
    assert re.search(r"edge: \d+ to \d+ MT/s \(95%\)", climbed.stdout)
    listed = tenaz(book, "book", "--rig", "ridge-5", "--json")
    trials = json.loads(listed.stdout)["trials"]
    erred = [trial for trial in trials if trial["errors"]]
    assert all(len(trial["wrong_values"]) == trial["errors"] for trial in erred)
    assert [trial["number"] for trial in trials] == list(range(1, len(trials) + 1))
    assert {trial["load_duration_s"] for trial in trials} == {1800.0}
    assert {trial["verdict"] for trial in trials} == {"pass", "fail"}
    assert "ridge" in tenaz(book, "book").stdout
    out = tmp_path / "ridge.svg"
    assert tenaz(book, "chart", str(out)).exit_code == 0
    assert out.stat().st_size > 10_000


@pytest.mark.parametrize("load", [("march", "--size", "16MiB"), ("transform", "--level", "l1")])
def test_a_load_that_holds_ends_with_0_and_is_in_the_book(book: Path, load: tuple[str, ...]) -> None:
    ran = tenaz(book, "load", *load, "--for", "2s")
    assert ran.exit_code == 0, ran.output
    assert "held after 2s" in ran.stdout
    (trial,) = json.loads(tenaz(book, "book", "--json").stdout)["trials"]
    assert (trial["rig"], trial["bench"], trial["outcome"]) == ("this machine", "here", "held")


def test_a_load_shorter_than_a_lap_says_so_and_does_not_end_with_0(book: Path) -> None:
    for seconds in (1, 4, 16):
        ran = tenaz(book, "load", "march", "--size", "4GiB", "--for", f"{seconds}s")
        if ran.exit_code != 130:  # else nothing was verified yet: the machine is slow today
            break
    assert (ran.exit_code, "not once through: it has shown only the" in ran.stdout) == (3, True)


def test_what_a_sheet_cannot_keep_is_told_loudly_and_ends_with_1(tmp_path: Path, book: Path) -> None:
    sheet, out = tmp_path / "tight.toml", tmp_path / "out.txt"
    sheet.write_text(
        'format = "tenaz.setpoint/1"\nmemory = "DDR5"\n[values]\ndata_rate_mts = 4800\nt_cl_nck = 60\nt_cwl_nck = 58\n'
    )
    told = tenaz(book, "sheet", str(sheet), "--to-rate", "8000")
    assert told.exit_code == 1
    assert "✗ tCL: the grid ends at 84 (21.00 ns), 100 (25.00 ns) asked" in told.stderr
    assert "too tight: the grid ends at 84" in told.stdout
    assert tenaz(book, "sheet", str(sheet), "--to-rate", "8000", "--save", str(out)).exit_code == 1
    assert "too tight: the grid ends at 84" in out.read_text()


def test_a_load_that_errs_ends_with_1_and_names_the_address(book: Path) -> None:
    command = [sys.executable, "-m", "tenaz", "--book", str(book), "load", "march", "--for", "60s", "--share", SHARE]
    running = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    deadline = time.monotonic() + PATIENCE_S
    workers: list[int] = []
    while not workers and time.monotonic() < deadline:
        time.sleep(0.2)
        workers = [c.pid for c in psutil.Process(running.pid).children() if "tenaz.loads.worker" in c.cmdline()]
    time.sleep(3.0)
    start, end = largest_block(workers[0])
    address = (start + end) // 2 // 8 * 8
    # A flip before the very first write is written over, and this machine may be slow to get there: once more, then.
    while running.poll() is None and time.monotonic() < deadline + 20:
        with contextlib.suppress(OSError):  # the worker is gone: it has found one, and its parent is about to say so
            flip_bit(workers[0], address, 5)
        time.sleep(2.0)
    said, _ = running.communicate(timeout=PATIENCE_S)
    assert running.returncode == 1
    assert f"{address:012x}" in said
    assert "stored wrong" in said


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("load", "march", "--for", "60s", "--share", "99%"), "would be allowed now"),
        (("load", "march", "--for", "soon"), "is no duration"),
        (("load", "march", "--for", "5s", "--laps", "2"), "give one of them"),
        (("load", "march", "--share", "half"), "no share of memory"),
        (("climb", "volume"), "no knob 'volume'"),
        (("climb", "data-rate", "--rig", "hut"), "no rig 'hut'"),
        (("climb", "data-rate", "--rig", "ridge", "--bench", "here"), "cannot be reached on bench here"),
        (("climb", "data-rate", "--from", "4900"), "not on its grid"),
        (("seen", "froze"), "nothing to explain"),
        (("book",), "no book at"),
        (("chart", "out.svg"), "no book at"),
    ],
)
def test_what_cannot_run_ends_with_2_and_says_why(book: Path, arguments: tuple[str, ...], words: str) -> None:
    ended = tenaz(book, *arguments)
    assert ended.exit_code == 2
    assert words in " ".join(ended.output.replace("│", " ").split())


def test_a_broken_book_is_told_without_a_traceback(book: Path) -> None:
    book.write_text("not a book")
    ended = tenaz(book, "book")
    assert ended.exit_code == 2
    assert "is not a book" in ended.output
    assert "Traceback" not in ended.output


def test_the_guides_page_of_commands_is_made_of_them() -> None:
    page = Path(__file__).parents[3] / "docs/guide/commands.md"
    assert page.read_text("utf-8") == commands_text(app), "write it anew: tenaz.cli.kit.commands_text"


def test_help_teaches_by_example() -> None:
    groups = {"sim": ("new", "fault", "do", "reveal"), "stick": ("make", "restore")}
    named = [(one.name, one.callback) for one in app.registered_commands if not one.hidden]
    alone = [name or call.__name__.replace("_", "-") for name, call in named if call is not None]
    for command in (*alone, *(f"{group} {one}" for group, names in groups.items() for one in names)):
        shown = CliRunner().invoke(app, [*command.split(), "--help"])
        assert shown.exit_code == 0, command
        examples = [
            line
            for line in shown.stdout.splitlines()
            if line.strip().startswith((f"tenaz {command}", f"sudo tenaz {command}"))
        ]
        assert len(examples) >= 1, command
        assert not [line for line in examples if line.split("#")[0].count("tenaz ") > 1], "one example a line"


def test_start_up_pays_for_nothing_heavy() -> None:
    heavy = ["llvmlite", "scipy", "matplotlib", "numpy", "sqlalchemy", "alembic", "typer"]
    modules = "sys, tenaz.__main__, tenaz.tui.app.run, tenaz.tui.app.app"
    check = f"import {modules}; print(sorted(set({heavy}) & set(sys.modules)))"
    ran = subprocess.run([sys.executable, "-c", check], capture_output=True, text=True, check=True)
    assert ran.stdout.strip() == "[]"


def test_a_sheet_is_checked_carried_compared_converted_and_kept(book: Path, tmp_path: Path) -> None:
    stock, faster, table = tmp_path / "stock.toml", tmp_path / "faster.toml", tmp_path / "faster.csv"
    assert tenaz(book, "sheet", "--rig", "ridge", "--save", str(stock)).exit_code == 2, "no book yet to look into"
    assert tenaz(book, "rig", "ridge").exit_code == 0
    assert tenaz(book, "sheet", "--rig", "ridge", "--save", str(stock)).exit_code == 0
    assert tenaz(book, "sheet", str(stock)).exit_code == 0
    assert tenaz(book, "sheet", str(stock), "--to-rate", "6400", "--save", str(faster)).exit_code == 0
    assert tenaz(book, "sheet", str(faster), "--save", str(table)).exit_code == 0
    checked = json.loads(tenaz(book, "sheet", str(table), "--json").stdout)
    times = {value["knob"]: value["time_ns"] for value in checked["values"]}
    assert times["t_rp_nck"] == pytest.approx(16.25)
    assert checked["figures"]["first_word_ns"] == pytest.approx(54 / 3.2)
    compared = json.loads(tenaz(book, "sheet", str(stock), str(faster), "--json").stdout)
    assert compared["changes"][0] == {"knob": "data_rate_mts", "before": 4800, "after": 6400}
    assert "knobs at once" in compared["warning"]
    low = tmp_path / "low.toml"
    low.write_text(stock.read_text().replace("t_rfc2_nck = 528", "t_rfc2_nck = 1000"))
    told = tenaz(book, "sheet", str(low))
    assert (told.exit_code, "too low: tRFC2 is 1000" in told.stdout) == (1, True)
    low.write_text("format = =")
    broken = tenaz(book, "sheet", str(low))
    assert (broken.exit_code, "at line 1" in broken.stderr) == (2, True)
    missing = tenaz(book, "sheet", "--rig", "ridge", "--setpoint", "winter", "--drop")
    assert (missing.exit_code, "ridge has no setpoint 'winter'" in missing.stderr) == (2, True)


def test_a_load_in_words_a_program_and_a_proof(book: Path) -> None:
    told = tenaz(book, "load", "march", "lr", "flushed", "--laps", "1", "--size", "32MiB", "--workers", "1", "--json")
    came = json.loads(told.stdout)
    assert (told.exit_code, came["outcome"], came["laps"]) == (0, "held", 1.0)
    assert (came["plan"]["test"], came["plan"]["mode"], came["points_to"]) == ("LR", "flushed", [])
    kept = json.loads(tenaz(book, "book", "--json").stdout)["trials"]
    assert kept[-1]["load"] == "march"
    failing = tenaz(book, "load", "program", "--laps", "1", "--no-book", "--", sys.executable, "-c", "exit('bad sum')")
    assert (failing.exit_code, "ended with status 1: bad sum" in failing.stdout) == (1, True)
    for arguments, words in ((("loaf",), "'loaf' is no load"), (("program",), "needs its command")):
        wrong = tenaz(book, "load", *arguments, "--no-book")
        assert (wrong.exit_code, words in wrong.stderr) == (2, True)
    proved = json.loads(tenaz(book, "proof", "--test", "c-", "--mode", "direct", "--json").stdout)["tests"]
    assert {one["model"]: one["part"] for one in proved}["coupling, idempotent"] == 1.0
    assert "is no mode" in tenaz(book, "proof", "--mode", "warm").stderr
    assert "reads 1 where memory holds 0" in tenaz(book, "proof", "--test", "{up(w0); up(r1)}").stderr


@pytest.mark.parametrize(("shell", "typed"), [("bash", "tenaz cl"), ("zsh", "tenaz cl"), ("fish", "tenaz cl")])
def test_shells_get_completions_and_no_workbench(tmp_path: Path, shell: str, typed: str) -> None:
    asked = {"_TENAZ_COMPLETE": f"complete_{shell}", "COMP_WORDS": typed, "COMP_CWORD": "1"}
    asked |= {"_TYPER_COMPLETE_ARGS": typed, "_TYPER_COMPLETE_FISH_ACTION": "get-args", "XDG_DATA_HOME": str(tmp_path)}
    tenaz = Path(sys.executable).with_name("tenaz")
    told = subprocess.run(
        [tenaz], env=os.environ | asked, capture_output=True, text=True, timeout=PATIENCE_S, check=False
    )
    assert "climb" in told.stdout
    assert list(tmp_path.iterdir()) == [], "and no book"


def test_without_a_terminal_the_workbench_says_so(tmp_path: Path) -> None:
    for arguments in ((), ("demo",), ("--book", str(tmp_path / "b.db"))):
        told = subprocess.run(
            [sys.executable, "-m", "tenaz", *arguments],
            env=os.environ | {"XDG_DATA_HOME": str(tmp_path)},
            stdin=subprocess.DEVNULL, capture_output=True, text=True, timeout=PATIENCE_S, check=False,
        )  # fmt: skip
        assert (told.returncode, "needs a terminal" in told.stderr) == (2, True)
    assert list(tmp_path.iterdir()) == []


def test_what_came_from_outside_is_shown_as_it_is_and_obeyed_by_nobody(book: Path, rig: Rig) -> None:
    opened = open_book(book)
    nasty = "\x1b]0;owned\x07\x9b31m[/] [retest] [bold]x"
    opened.store.rigs.put(replace(rig, owner=nasty, complaint=nasty))
    trial = opened.store.trials.begin(rig, BenchKind.HAND, rig.stock, LoadPlan(LoadKind.MARCH, 60.0), RealClock())
    opened.store.trials.note(trial.id, nasty)
    opened.close()
    for arguments in (("book",), ("rig", "ridge"), ("book", "--json")):
        told = tenaz(book, *arguments)
        assert told.exit_code == 0, told.output
        assert not any(sign in told.stdout for sign in "\x1b\x9b\x07")
    assert "[retest]" in tenaz(book, "book").stdout, "no markup of ours"


@pytest.mark.parametrize("soft", [6, 14, 24])
def test_very_few_files_are_a_word_and_no_traceback(book: Path, soft: int) -> None:
    limited = f"import resource; resource.setrlimit(resource.RLIMIT_NOFILE, ({soft}, {soft}))"
    load = ["tenaz", "--book", str(book), "load", "march", "--for", "1s", "--size", "16MiB"]
    code = f"{limited}\nimport sys\nsys.argv = {load!r}\n"
    run = "from tenaz.__main__ import main\nmain()"
    told = subprocess.run(
        [sys.executable, "-c", code + run], capture_output=True, text=True, timeout=PATIENCE_S, check=False
    )
    assert "Traceback" not in told.stderr
    assert (told.returncode, bool(told.stderr.strip())) == (2, True) or soft > 20


def test_simulated_rigs_are_listed_made_worked_on_and_told_of(book: Path) -> None:
    listed = tenaz(book, "sim", "list").stdout
    assert all(word in listed for word in ("sled", "desktop-ddr5", "loose-contact SLOT", "reseat A2"))
    assert "the exercise: find the part" in tenaz(book, "sim", "new", "sled").stdout
    assert "module 2260 pulled from A1 (4 min)" in tenaz(book, "sim", "do", "--rig", "sled", "pull", "A1").stdout
    assert "weak-core 2" in tenaz(book, "sim", "fault", "--rig", "sled", "weak-core 2").stdout
    assert "is right" in tenaz(book, "sim", "reveal", "--rig", "sled", "--answer", "core 2").stdout
    refused = tenaz(book, "sim", "new")
    assert (refused.exit_code, "name a scenario, or a kind" in refused.output) == (2, True)
    assert tenaz(book, "sim", "do", "--rig", "this machine", "clean").exit_code == 2


def test_a_book_that_is_named_wins_over_that_of_the_environment(
    book: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    other = tmp_path / "other.db"
    monkeypatch.setenv("TENAZ_BOOK", str(other))
    for words in (
        ("--book", str(book), "enter", "march 1h | held 1h"),
        ("enter", "march 1h | held 1h", "--book", str(book)),
    ):
        assert CliRunner().invoke(app, list(words)).exit_code == 0
    assert not other.exists()
    assert CliRunner().invoke(app, ["enter", "march 1h | held 1h"]).exit_code == 0
    assert other.exists()
    found = CliRunner().invoke(app, ["--book", str(book), "book", "failed"])
    assert "Nothing in the book is like that." in found.stdout
