"""The Load and Rig pictures."""

import re
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadProgress, WorkerProgress
from tenaz.core.machine.machine import Machine, MemoryModule, Unread, Why
from tenaz.core.rigs.rig import OWN
from tenaz.core.sensors.guard import Alarm, Said
from tenaz.core.sensors.series import LiveSeries
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.core.sensors.trace import TraceChunk, pack, unpack
from tenaz.demo.ridge import ridge
from tenaz.pictures.load.cells import draw_load
from tenaz.pictures.load.curves import kept_series
from tenaz.pictures.rig.cells import draw_rig
from tenaz.tui.base.load_view import LoadView
from tests.make import trial

HEAT = Sensor("sim/temp1", "processor", SensorKind.TEMPERATURE)
FAN = Sensor("nct/fan1", "cooler fan", SensorKind.FAN)
PLAN = LoadPlan(LoadKind.MARCH, 3600.0)


def running(cores: int = 12, seconds: int = 600) -> LoadView:
    view = LoadView(OWN)
    lanes = tuple(WorkerProgress(k, k, 3.4, 5.2, int(k == 2), 599.0, 4300.0, "march") for k in range(cores))
    view.take_progress(1, LoadProgress(PLAN, float(seconds), 0.2, 3000.0, 3.4, 62.0, 1, lanes))
    for at in range(seconds):
        view.take_sample(1, (FAN, HEAT), Sample(float(at), (1200.0, 40.0 + 58.0 * at / seconds)))
    return view


def test_lanes_curves_ceiling_and_events_stand_on_one_sheet() -> None:
    failed = trial(Outcome.ERRED, failed_after_s=300.0, plan=PLAN)
    text = draw_load(running().picture(failed), 82, 30).text()
    for words in ("core 11", "4300 MHz", "1 ERROR", "98 °C  (40 to 98)", "stop 100", "00:10:00", "✗ erred"):
        assert words in text
    assert text.index("processor") < text.index("cooler fan"), "temperatures first"
    assert "and 6 more workers" in draw_load(running(24).picture(failed), 82, 26).text()


def test_the_cursor_reads_out_and_zoom_narrows() -> None:
    view = running()
    for _ in range(30):
        view.move(-1)
    picture = view.picture(trial(Outcome.HELD))
    assert picture.cursor_s == pytest.approx(300.0)
    text = draw_load(picture, 82, 30).text()
    assert "at 00:05:00" in text
    assert "69 °C" in text
    view.zoom(0.5)
    half = view.picture(None)
    assert (half.start_s, half.end_s) == (150.0, 450.0)
    for _ in range(60):
        view.move(1)
    moved = view.picture(None)
    assert moved.end_s == pytest.approx(600.0)
    view.zoom(2.0)
    assert view.picture(None).start_s == 0.0


def test_what_happened_stands_on_the_axis_and_the_gravest_is_drawn() -> None:
    view = running()
    for at_s, alarm in (
        (100.0, Alarm.WARNING),
        (300.0, Alarm.THROTTLED),
        (300.2, Alarm.WRONG_VALUE),
        (301.0, Alarm.NOTE),
    ):
        view.take_said(1, Said(at_s, alarm, f"{alarm} told at {at_s:.0f}"))
    text = draw_load(view.picture(trial(Outcome.ERRED, failed_after_s=300.2, plan=PLAN)), 120, 30).text()
    axis, words = text.rstrip().splitlines()[-2:]
    assert re.search(r"^ *─+!─+✗─+$", axis), "one sign a column, the gravest"
    assert "! warning   ↓ throttled   ✗ wrong value   · note" in words, "the failure is not told twice"
    for _ in range(50):
        view.move(-1)
    assert "! 00:01:40 warning told at 100" in draw_load(view.picture(None), 120, 30).text()


@given(width=st.integers(0, 170), height=st.integers(0, 50), cores=st.integers(0, 40), seconds=st.integers(0, 40))
def test_no_sheet_is_ever_overdrawn(width: int, height: int, cores: int, seconds: int) -> None:
    for cells in (draw_load(running(cores, seconds).picture(None), width, height), draw_rig(ridge(), width, height)):
        assert [sum(len(run.text) for run in row) for row in cells.rows()] == [width] * height


@given(st.lists(st.none() | st.floats(-50, 150), min_size=1, max_size=700), st.integers(1, 90))
def test_a_live_series_loses_no_peak_however_long_it_gets(values: list[float | None], count: int) -> None:
    series = LiveSeries(capacity=64)
    for at, value in enumerate(values):
        series.add(float(at), value)
    known = [value for value in values if value is not None]
    spans = [span for span in series.buckets(0.0, float(len(values)), count) if span is not None]
    if known:
        assert max(high for _, high in spans) == max(known)
        assert min(low for low, _ in spans) == min(known)
    else:
        assert spans == []


def test_kept_curves_are_the_samples_and_a_broken_stretch_is_a_gap() -> None:
    sensors = (HEAT, FAN)
    stretches = [
        [Sample(60.0 * part + k, (50.0 + k / 10, None if k % 7 else 900.0)) for k in range(60)] for part in range(3)
    ]
    chunks = [pack(sensors, samples) for samples in stretches]
    broken = TraceChunk(sensors, 60, b"no stretch")
    kept = kept_series([chunks[0], broken, chunks[2]])
    again = unpack(chunks[2])
    assert kept[HEAT].last == pytest.approx(again[-1].values[0])
    spans = kept[HEAT].buckets(0.0, 180.0, 3)
    assert spans[1] is None
    assert spans[0] == pytest.approx((50.0, 55.9))
    assert kept[FAN].buckets(120.0, 121.0, 1) == [pytest.approx((900.0, 900.0))]


def test_the_rig_as_one_sees_it() -> None:
    text = draw_rig(ridge(), 82, 34).text()
    for words in ("Aguja A12", "12 cores, 24 threads", "[11]", "L3 32 MiB", "▮ 1 rank"):
        assert words in text
    assert text.count("empty") == 2
    assert re.search(r"channel B +│ empty +│ +│ ▮ 1 rank +4800 of 6400 MT/s │", text)
    assert "┌ A2 ─ 24 GiB DDR5 LQ-24-6400 ─" in text
    assert "off stock: A2 and B2 run at 4800 MT/s, rated 6400 MT/s" in text
    assert "avalanche office" in text


def test_what_is_pointed_out_is_scrolled_when_it_is_long() -> None:
    unread = tuple(Unread(f"/sys/{number}", Why.MISSING) for number in range(40))
    rig = replace(ridge(), machine=Machine(unread=unread), complaint="")
    seen = set()
    for skip in range(0, 60, 3):
        text = draw_rig(rig, 82, 26, skip).text()
        shown = {int(number) for number in re.findall(r"/sys/(\d+)", text)}
        above, below = re.search(r"(\d+) more above", text), re.search(r"(\d+) more below", text)
        assert (above is not None, below is not None) == (0 not in shown, 39 not in shown)
        counted = (int(above[1]) if above else 0) + len(shown) + (int(below[1]) if below else 0)
        assert counted == 40, "what is not in sight is counted"
        seen |= shown
    assert len(seen) == 40


def test_what_is_unknown_looks_unknown() -> None:
    bare = draw_rig(replace(ridge(), machine=None, cores=None, memory_bytes=None, processor=""), 82, 34).text()
    assert "processor   ?" in bare
    assert "? cores" in bare
    assert "nothing was read of it yet" in bare
    machine = Machine(modules=(MemoryModule("A1", None),), unread=(Unread("/dev/mem", Why.FORBIDDEN, "try as root"),))
    assert "channel A" in draw_rig(replace(ridge(), machine=machine), 82, 34).text()
    half = draw_rig(replace(ridge(), machine=machine), 82, 34).text()
    assert "not read: /dev/mem: no permission (try as root)" in half
