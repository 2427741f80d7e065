"""A climb begins with what past rigs of the workshop say of its knob, and says so; unless that is not wanted."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz import orders as o
from tenaz.cli.app import app
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import OWN
from tenaz.demo.ridge import ridge
from tenaz.margins.experience_files import read_experience
from tenaz.margins.priors import prior_of, prior_text
from tenaz.workshop.shop.shop import Workshop

QUICK = LoadPlan(LoadKind.MARCH, duration_s=1200.0)


@pytest.fixture
def workshop(book: Path) -> Iterator[Workshop]:
    opened = Workshop()
    opened.open(book)
    yield opened
    opened.close()


def climb(workshop: Workshop, name: str, seed: int, strategy: str = "halve") -> None:
    workshop.do(o.KeepRig(replace(ridge(seed), name=name, purpose=OWN)))
    workshop.do(o.ChooseRig(name))
    steps = o.Steps() if strategy == "halve" else None
    workshop.do(o.BeginSearch(("data_rate_mts",), workshop.rig.stock, QUICK, "", strategy, steps=steps))
    workshop.running.wait()


def test_it_learns_once_there_are_enough_and_only_where_it_is_wanted(
    workshop: Workshop, book: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings = tmp_path / "settings.toml"
    monkeypatch.setenv("TENAZ_SETTINGS", str(settings))
    for at, name in enumerate(("first", "second", "third")):
        climb(workshop, name, 31 + at)
        assert not workshop.rig.experience
    climb(workshop, "fourth", 34, "adapt")
    believed = prior_of(workshop.rig, workshop.rig.knob("data_rate_mts"))
    assert believed.rigs == 3
    assert prior_text(believed) == dict(workshop.rig.experience)["data_rate_mts"]
    assert workshop.store.rigs.one("fourth").experience == workshop.rig.experience, "it is in the book"
    shared = tmp_path / "ours.toml"
    told = CliRunner().invoke(app, ["--book", str(book), "margins", "--rig", "fourth", "--prior", "--out", str(shared)])
    assert (told.exit_code, "data_rate_mts: 3 rigs" in told.output) == (0, True), told.output
    assert not any(name in shared.read_text() for name in ("first", "second", "fourth", "ridge"))
    common = read_experience(shared).of("data_rate_mts", workshop.rig.family)
    assert common is not None
    assert common.unit == "of what it came with"
    shared.write_text(shared.read_text().replace("rigs = 3", "rigs = 30"))
    settings.write_text(f'[work]\nexperience_file = "{shared}"\n')
    workshop.do(o.KeepRig(replace(workshop.rig, name="alone", experience=())))
    workshop.do(o.ChooseRig("alone"))
    workshop.do(o.BeginSearch(("data_rate_mts",), workshop.rig.stock, QUICK, "", "adapt", steps=o.Steps(one=True)))
    workshop.running.wait()
    assert "another workshop" in prior_of(workshop.rig, workshop.rig.knob("data_rate_mts")).learnt_from
    settings.write_text("[work]\nexperience = false\n")
    climb(workshop, "fifth", 36, "adapt")
    assert workshop.rig.experience == ()
