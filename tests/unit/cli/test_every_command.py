"""Every command is run, and does what it says or says why it cannot."""

import shlex
import shutil
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz.cli.app import app
from tenaz.workshop.errands.demo_book import make_demo_book
from tests.unit.cli.test_printed_commands import QUICK, commands

BY_WAY_OF_A_TERMINAL = {"demo"}
"""Run in a real one, by the tests of the workbench."""

TRIED: dict[str, tuple[str, int, str]] = {
    "load march --for 1s --share 1% --no-book": ("load", 0, "held after"),
    "climb data-rate --rig hut --for 10m --strategy halve": ("climb", 0, "advice:"),
    "culprit 6 --for 10m": ("culprit", 2, "it takes two or more"),
    "unpick 6 --for 10m": ("unpick", 2, "it takes two or more"),
    "field data_rate_mts=3200..4000 t_cl_nck=22..16 --rig hut --for 10m": ("field", 0, ""),
    "words multiplier": ("words", 0, "core ratio"),
    "words rabbit": ("words", 1, "nothing here is called 'rabbit'"),
    "words row hammer --json": ("words", 0, '"name": "disturb"'),
    "night --look": ("night", 2, "No night was begun on ridge"),
    "next --rig ridge": ("next", 0, "5800 MT/s held: one step further"),
    "next --rig hut --json": ("next", 0, '"order": "StartRoutine"'),
    "watch --every 0.2s --count 2 --json": ("watch", 0, '"at_s"'),
    "proof --test MATS+ --mode direct": ("proof", 0, "MATS+"),
    "cards": ("cards", 0, "card 0"),
    "golden": ("golden", 0, "No goldens yet"),
    "measure --bench sim --rig ridge --own 'render 41.2 40.9 s'": ("measure", 0, "kept: render"),
    "study --rigs 1 --strategy halve p --knob t_cl_nck": ("study", 2, ""),
    "stick list": ("stick list", 0, "removable device"),
    "stick make out.img --lock none.toml": ("stick make", 2, "none.toml"),
    "stick restore /dev/none": ("stick restore", 2, "/dev/none"),
    "stick renew --constraint none.txt": ("stick renew", 2, "none.txt"),
    "stick reached --rig ridge": ("stick reached", 0, "physical memory"),
    "agent --serial /dev/none": ("agent", 2, "/dev/none cannot be opened as a serial line"),
    "wire look telnet far": ("wire look", 2, "is no way to a rig"),
    "wire prepare serial /dev/none": ("wire prepare", 2, "only over ssh can anything be brought"),
    "wire add ridge no-such.invalid": ("wire add", 2, "The book has a rig 'ridge' already"),
    "wire stop serial /dev/none": ("wire stop", 2, "/dev/none cannot be opened as a serial line"),
    "set probe press": ("set probe", 0, "t_cl_nck"),
    "set probe hut": ("set probe", 2, "hut has no door"),
    "set confirm press none.toml": ("set confirm", 2, "none.toml"),
    "sim list": ("sim list", 0, "scenarios"),
    "sim new sled --name second": ("sim new", 0, "second added"),
    "sim fault --rig sled 'bad-row A1'": ("sim fault", 0, "bad-row"),
    "sim do --rig sled pull A2": ("sim do", 0, "A2"),
    "sim reveal --rig sled": ("sim reveal", 0, ""),
}


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    place = tmp_path_factory.mktemp("every") / "demo.db"
    make_demo_book(place)
    return place


def test_none_is_left_out() -> None:
    run = {name for name, _, _ in TRIED.values()} | set(QUICK) | BY_WAY_OF_A_TERMINAL
    assert {" ".join(name) for name, _ in commands()} <= run


@pytest.mark.xdist_group("loading")
@pytest.mark.parametrize("line", TRIED)
def test_it_does_what_it_says_or_says_why_not(
    line: str, demo: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:

    _, status, words = TRIED[line]
    monkeypatch.chdir(tmp_path)
    book = tmp_path / "book.db"
    shutil.copy(demo, book)
    ended = CliRunner().invoke(app, ["--book", str(book), *shlex.split(line)])
    assert ended.exception is None or isinstance(ended.exception, SystemExit), ended.output
    told = " ".join(ended.output.replace("│", " ").split())
    assert (ended.exit_code, words in told) == (status, True), told
