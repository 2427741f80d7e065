"""Pictures from values: marks, brackets, limits of the sheet, and the same on paper."""

import re
import xml.etree.ElementTree as ET
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from rich.cells import cell_len

from tenaz.core.base.errors import TenazError
from tenaz.core.base.loop import RAIL, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadProgress
from tenaz.core.searches.search import Advice, Proposal, facts_of
from tenaz.core.trials.trial import Trial
from tenaz.margins.judging import judge
from tenaz.margins.safety import safety_of
from tenaz.pictures.climb.build import picture_of_line
from tenaz.pictures.climb.cells import draw_climb
from tenaz.pictures.climb.model import ClimbPicture, climb_picture
from tenaz.pictures.climb.paper import export_climb
from tenaz.pictures.drawing.marks import MARKS, NEXT, RUNNING, STOCK, Role
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.pictures.drawing.roles import DARK, DARK_GROUND, LIGHT, LIGHT_GROUND, READ_AS_TEXT
from tenaz.pictures.sheet.track import Track, draw_track, tracks_of
from tenaz.pictures.status.evidence import draw_evidence
from tenaz.pictures.status.rail import RailPicture, draw_rail
from tests.make import HOUR, RATE, RIG, indexed, trial

HEAD = PaperHead("data rate", "ridge", datetime(2026, 1, 6, tzinfo=UTC), "data rate 6000 MT/s", "march 2.0 h")
ALL_OUTCOMES = [None, *Outcome]


def along(*steps: tuple[int, Outcome | None]) -> list[Trial]:
    return [
        trial(
            outcome,
            RIG.stock.replacing("data_rate_mts", value),
            number=number,
            station=Station.CLOSED if outcome else Station.LOAD,
        )
        for number, (value, outcome) in enumerate(steps, 1)
    ]


def proposal(reason: str) -> Proposal:
    return Proposal(RIG.stock.replacing("data_rate_mts", 6000), HOUR, reason)


def picture(trials: list[Trial], standing: Proposal | Advice | None = None) -> ClimbPicture:
    closed = [facts_of(one) for one in trials if one.outcome is not None]
    judged = judge(RATE, RIG.purpose, closed, LoadKind.MARCH)
    return climb_picture("ridge", RATE, 4800, 4800, 7600, trials, judged, standing, "march for 1h")


CLIMBED = along((5800, Outcome.HELD), (6000, Outcome.HELD), (6200, Outcome.ERRED), (6000, Outcome.HELD))


def test_every_sign_is_its_own_and_one_cell_wide() -> None:
    signs = [mark.sign for mark in (*MARKS.values(), RUNNING, NEXT, STOCK)]
    assert len(signs) == len(set(signs))
    assert all(cell_len(sign) == 1 for sign in signs)
    assert set(MARKS) == set(Outcome)


def test_the_climb_shows_marks_bracket_interval_and_what_is_next() -> None:
    text = draw_climb(picture(CLIMBED, proposal("again")), 92, 34).text()
    for expected in ("6200 ┤", "✗", "●", "◇", "next", "held 6000 · failed 6200 MT/s", "MT/s (95%)", "1 failure in"):
        assert expected in text
    drawn = picture(CLIMBED)
    assert drawn.stand is not None
    assert drawn.stand < 6200
    assert f"back off to {drawn.stand} MT/s" in text
    assert drawn.guard == range(RATE.strain(drawn.stand) + 1, RATE.strain(6200))
    assert "guard band, " in text
    assert "hours between errors" in text
    asked = draw_climb(picture(CLIMBED), 92, 34, cursor=2).text()
    assert re.search(
        r"without trial 3 the edge would lie at \d+ to 8000 MT/s or beyond, and \d+ MT/s be advised", asked
    )
    assert "stand at" not in asked
    lines = text.splitlines()
    assert "✗" in next(line for line in lines if "6200 ┤" in line)
    assert any("█" in line and re.search(r"\d%", line) for line in lines)
    listed = [line for line in lines if "1h under load" in line or "erred" in line]
    assert any("6200 MT/s  ✗ erred" in line for line in listed)


def test_an_open_bracket_has_no_guard_band_and_a_running_trial_no_ghost() -> None:
    open_bracket = picture(
        along((5800, Outcome.HELD), (7000, Outcome.NO_BOOT), (6000, None)),
        proposal(""),
    )
    assert len(open_bracket.guard) == 0
    assert open_bracket.ghost is None
    assert RUNNING.sign in draw_climb(open_bracket, 92, 34).text()


@given(
    width=st.integers(0, 200),
    height=st.integers(0, 60),
    steps=st.lists(st.tuples(st.sampled_from(list(RATE.grid.values())), st.sampled_from(ALL_OUTCOMES)), max_size=120),
    cursor=st.none() | st.integers(0, 119),
)
def test_no_sheet_is_ever_overdrawn(
    width: int, height: int, steps: list[tuple[int, Outcome | None]], cursor: int | None
) -> None:
    drawn = draw_climb(picture(along(*steps)), width, height, cursor if cursor and cursor < len(steps) else None)
    rows = drawn.rows()
    assert len(rows) == height
    assert all(sum(len(run.text) for run in row) == width for row in rows)


def rate_track(dialled: Setpoint, trials: Sequence[Trial]) -> Track:
    """The track of the data rate, values in force at stock."""
    judged = picture(trials).judged
    edges = {RATE.name: judged} if judged else {}
    (track,) = tracks_of([RATE], dialled, RIG.stock, RIG.stock, indexed(trials), edges)
    return track


def test_a_track_is_the_margin_report_on_one_line() -> None:
    dialled = RIG.stock.replacing("data_rate_mts", 5400)
    track = rate_track(dialled, CLIMBED)
    assert (track.held, track.failed) == (6000, 6200)
    assert track.stand is not None
    assert track.guard == tuple(range(track.stand + 200, 6200, 200))
    assert track.edge is not None
    assert track.edge[0] <= track.edge[1] <= 6200
    assert track.margin_steps() == 7
    assert track.changed
    line, under = draw_track(track, 44).text().splitlines()
    assert line.index("▒") < line.index("●") < line.index("✗") < line.index("╎")
    assert under.index("▾") < under.index("│") < under.index("▴")
    elsewhere = rate_track(dialled.replacing("t_cl_nck", 38), CLIMBED)
    assert elsewhere.outcomes == (), "trials at another tCL say nothing on this line"


def test_a_failure_outlasts_a_pass_and_a_void_hides_neither() -> None:
    mixed = along((5000, Outcome.HELD), (5000, Outcome.FROZE), (5000, Outcome.HELD), (5200, Outcome.HELD))
    mixed += along((5200, Outcome.STOPPED))
    track = rate_track(RIG.stock, mixed)
    assert dict(track.outcomes) == {5000: Outcome.FROZE, 5200: Outcome.HELD}


@pytest.mark.parametrize("station", RAIL)
def test_the_rail_lights_the_station_and_tells_the_figures(station: Station) -> None:
    plan = LoadPlan(LoadKind.MARCH, 3600)
    progress = LoadProgress(plan, 760, 0.25, 2840, 3.2, 61.0, 2, temperature_c=71.4)
    shown = progress if station is Station.LOAD else None
    text = draw_rail(RailPicture("ridge", "sim", station, 17, 5.0, shown), 158).text()
    assert station.upper() in text
    assert text.count("[") == 1
    assert "trial 17" in text
    if station is Station.LOAD:
        for figure in ("00:12:40", "71 °C", "61.0 GB/s", "2 ERRORS", "47m20s left"):
            assert figure in text


def test_evidence_says_what_is_owed() -> None:
    def drawn(at: Trial, dialled: tuple[tuple[str, bool], ...] = ()) -> str:
        trials = indexed(CLIMBED)
        shown, safety = evidence_at(at.setpoint, trials, RIG), safety_of(RIG, at.setpoint, trials)
        return draw_evidence(shown, RIG.purpose, dialled, 28, 36, safety).text()

    text = drawn(CLIMBED[1], (("6000 MT/s", True),))
    for words in ("▸ 6000 MT/s", "PARTLY TESTED", "2.0 of 8 h", "6.0 h to run", "4.0 h to run", "three", "winters"):
        assert words in text
    assert "FAILED HERE" in drawn(CLIMBED[2])


@pytest.mark.parametrize(("roles", "ground"), [(DARK, DARK_GROUND), (LIGHT, LIGHT_GROUND)])
def test_words_stand_out_from_the_ground(roles: dict[Role, str], ground: str) -> None:
    def luminance(colour: str) -> float:
        parts = [int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]
        linear = [p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    for role in READ_AS_TEXT:
        pair = sorted((luminance(roles[role]), luminance(ground)))
        assert (pair[1] + 0.05) / (pair[0] + 0.05) >= 4.5, role


def test_paper_has_the_same_trials_with_the_same_marks(tmp_path: Path) -> None:
    out = tmp_path / "climb.svg"
    export_climb(picture(CLIMBED, Advice(RIG.stock.replacing("data_rate_mts", 6000), "held 2 times")), out, HEAD)
    ids = {element.get("id") for element in ET.parse(out).iter()}
    assert {"trial-1-held", "trial-2-held", "trial-3-erred", "trial-4-held"} <= ids
    pdf = tmp_path / "climb.pdf"
    export_climb(replace(picture(CLIMBED), judged=None), pdf, HEAD)
    assert pdf.read_bytes().startswith(b"%PDF")


@pytest.mark.parametrize(("name", "words"), [("climb.png", "ending in .svg or .pdf"), ("no/such/c.svg", "no folder")])
def test_a_place_that_cannot_be_written_is_refused(tmp_path: Path, name: str, words: str) -> None:
    with pytest.raises(TenazError, match=words):
        export_climb(picture(CLIMBED), tmp_path / name, HEAD)


def test_the_picture_names_its_load_and_each_other_load_is_a_strand_of_its_own() -> None:
    transform = LoadPlan(LoadKind.TRANSFORM, duration_s=3600)
    apart = replace(trial(Outcome.HELD, RIG.stock.replacing("data_rate_mts", 6600), number=5), plan=transform)
    down = replace(trial(Outcome.NO_BOOT, RIG.stock.replacing("data_rate_mts", 7000), number=6), plan=transform)
    through = RIG.stock.replacing("data_rate_mts", 6600)
    before = picture_of_line(RIG, RATE, through, indexed(CLIMBED), LoadKind.MARCH)
    after = picture_of_line(RIG, RATE, through, indexed([*CLIMBED, apart]), LoadKind.MARCH)
    assert before is not None
    assert after is not None
    assert before.edge is not None
    assert after.edge is not None
    assert after.bracket == before.bracket
    assert abs(after.edge.median - before.edge.median) < 2, (
        "of another load's trial only counts what it says of the wall"
    )
    assert [strand.load for strand in after.series] == [LoadKind.TRANSFORM]
    text = draw_climb(after, 100, 34).text()
    assert "data rate, MT/s · under march" in text
    assert "transform: held 6600 MT/s · nothing failed" in text
    rows = [line.split()[:6] for line in text.splitlines() if "6600 MT/s  " in line or "6200 MT/s  " in line]
    assert [row[-1] for row in rows] == ["transform", "march"]
    known = picture_of_line(RIG, RATE, through, indexed([*CLIMBED, apart, down]), LoadKind.MARCH)
    assert known is not None
    assert known.edge is not None
    assert known.edge.high < RATE.strain(7000), "that it did not boot counts whatever was to be run"


def test_a_row_that_stands_for_several_values_says_which_and_bounds_say_what_they_are() -> None:
    tall = along(*[(value, Outcome.HELD) for value in range(4800, 6600, 200)], (6600, Outcome.ERRED))
    text = draw_climb(picture(tall), 80, 14).text()
    labels = [found[1] for line in text.splitlines() if (found := re.match(r"\s*(\S+)[ s]?┤", line))]
    assert labels[0].startswith("6600–")
    assert all("–" in label or label == labels[-1] for label in labels)
    failed = next(line for line in text.splitlines() if "✗" in line)
    assert failed.split("┤")[0].strip().startswith("6600")
    vdd = RIG.knob("memory_vdd_mv")
    down = climb_picture("ridge", vdd, 1100, 1100, 950, [], None, None, "march")
    assert (picture(tall).limit_word, down.limit_word) == ("advised ceiling", "end of the grid")


def test_an_edge_that_one_kind_of_load_alone_sees_is_said_to_be() -> None:
    copy = LoadPlan(LoadKind.COPY, duration_s=3600)
    steps = [(value, Outcome.ERRED) for value in (5200, 5200, 5400, 5400)]
    fails = [
        replace(one, plan=copy, failed_after_s=60.0 / (1 + k), number=20 + k) for k, one in enumerate(along(*steps))
    ]
    holds = along(*[(value, Outcome.HELD) for value in (6000, 6200, 6400, 6400, 6600, 6600)], (6800, Outcome.ERRED))
    shown = picture_of_line(RIG, RATE, RIG.stock, indexed([*holds, *fails]), LoadKind.MARCH)
    assert shown is not None
    assert shown.strand_texts()[0].endswith("copy alone sees it")
