"""Clocks and nanoseconds, sheets carried to another rate, what timings ask of each other."""

import re
from fractions import Fraction

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tenaz.core.knobs.timings.clocks import Family, MemoryClock, Rounding, to_clocks
from tenaz.core.knobs.timings.figures import figures, refresh_note
from tenaz.core.knobs.timings.minima import TimingFault, check_timings, mended
from tenaz.core.knobs.timings.rescaling import carry
from tenaz.core.knobs.timings.rules import RULES, Scaling

FOUR, FIVE = Family.DDR4, Family.DDR5
RATES = {
    FOUR: (1600, 1866, 2133, 2400, 2666, 2933, 3200, 3733), FIVE: (4000, 4800, 5600, 6000, 6400, 7200, 8000),
    Family.DDR3: (800, 1066, 1333, 1866, 2133, 2666), Family.LPDDR4: (1600, 3200, 3733, 4266),
    Family.LPDDR5: (3200, 5500, 6400, 8533),
}  # fmt: skip


@pytest.mark.parametrize(
    ("rate_mts", "mhz", "t_ck_ps"),
    [(1866, 933.33, 1071.43), (2133, 1066.67, 937.5), (2666, 1333.33, 750), (2933, 1466.67, 681.82), (3200, 1600, 625),
     (4800, 2400, 416.67), (5600, 2800, 357.14), (6000, 3000, 333.33), (6050, 3025, 330.58)],
)  # fmt: skip
def test_a_rate_stands_for_its_exact_clock(rate_mts: int, mhz: float, t_ck_ps: float) -> None:
    clock = MemoryClock(rate_mts)
    assert float(clock.mhz) == pytest.approx(mhz, abs=0.01)
    assert float(clock.t_ck_ps) == pytest.approx(t_ck_ps, abs=0.01)


@pytest.mark.parametrize(
    ("family", "rate_mts", "time_ps", "standard", "cautious"),
    [
        # JESD79-4, speed bins: tAA 13.75 ns of DDR4-2400R, -2666V's 14.25, -3200AA; tRFC1 of 8 Gbit at 2400.
        (FOUR, 2400, 13_320, 16, 16),
        (FOUR, 2400, 14_160, 17, 17),
        (FOUR, 2666, 14_250, 19, 19),
        (FOUR, 3200, 13_750, 22, 22),
        (FOUR, 2400, 350_000, 420, 420),
        # The 0.974 of DDR4: an excess of 2.6 % of a clock is forgiven, more is not.
        (FOUR, 3200, 13_760, 22, 23),
        (FOUR, 3200, 13_770, 23, 23),
        # JESD79-4: DDR4-2933 has 682 ps in its bins, not 681; tAA and tRC of its bins; tRFC1 of 323 clocks at 3200.
        (FOUR, 2933, 12_960, 19, 20),
        (FOUR, 2933, 13_640, 20, 21),
        (FOUR, 2933, 14_320, 21, 22),
        (FOUR, 2933, 201_875, 296, 297),
        # JESD79-5, speed bins: tAA 16 ns and tRAS 32 ns of DDR5-4800B; tRFC1 295 ns of 16 Gbit; 5600 and 6400.
        (FIVE, 4800, 16_000, 39, 39),
        (FIVE, 4800, 32_000, 77, 77),
        (FIVE, 4800, 295_000, 708, 708),
        (FIVE, 5600, 295_000, 826, 826),
        (FIVE, 6400, 295_000, 944, 944),
        # The 0.997 of DDR5: 0.3 % of the time is forgiven.
        (FIVE, 6400, 16_260, 52, 53),
        (FIVE, 6400, 16_310, 53, 53),
        # JESD79-3, speed bins: tAA of DDR3-1333H and -1600K, tRFC of 4 Gbit; they round up.
        (Family.DDR3, 1333, 13_500, 9, 9),
        (Family.DDR3, 1600, 13_750, 11, 11),
        (Family.DDR3, 1600, 260_000, 208, 208),
        # JESD209-4: tRCD 18 ns and tRFCab of 8 Gbit at 3200. JESD209-5: 18 ns at 6400, in clocks of 1.25 ns.
        (Family.LPDDR4, 3200, 18_000, 29, 29),
        (Family.LPDDR4, 3200, 280_000, 448, 448),
        (Family.LPDDR5, 6400, 18_000, 15, 15),
        (Family.LPDDR5, 6400, 280_000, 224, 224),
    ],
)
def test_rounding_is_the_standards_own(
    family: Family, rate_mts: int, time_ps: int, standard: int, cautious: int
) -> None:
    clock = MemoryClock.of(rate_mts, family)
    assert to_clocks(time_ps, clock, family, Rounding.STANDARD) == standard
    assert to_clocks(time_ps, clock, family, Rounding.CAUTIOUS) == cautious


@given(st.sampled_from(sorted(RATES)), st.integers(1000, 9000), st.integers(1, 10**7), st.sampled_from(Rounding))
def test_rounding_never_shortens_by_more_than_the_standard_forgives(
    family: Family, rate_mts: int, time_ps: int, rounding: Rounding
) -> None:
    clock = MemoryClock.of(rate_mts, family)
    lasts = to_clocks(time_ps, clock, family, rounding) * clock.t_ck_ps
    forgiven: Fraction | float = 0
    if rounding is Rounding.STANDARD and family in (FOUR, FIVE):
        # A tCK cut to whole picoseconds only makes more clocks; DDR4's nearest one may be half a picosecond longer.
        nearest = max(Fraction(0), clock.t_ck_whole_ps(family) - clock.t_ck_ps) * (time_ps / clock.t_ck_ps + 1)
        forgiven = Fraction(26, 1000) * clock.t_ck_ps + 1 + nearest
        if family is FIVE:
            forgiven = Fraction(3, 1000) * time_ps + 2
    assert lasts >= time_ps - forgiven
    assert lasts < time_ps + clock.t_ck_ps, "and never takes a clock too many"


@given(st.sampled_from(sorted(RATES)), st.integers(1000, 9000), st.integers(1, 12_000), st.sampled_from(Rounding))
def test_whole_clocks_stay_whole_clocks_and_more_time_is_never_fewer(
    family: Family, rate_mts: int, clocks: int, rounding: Rounding
) -> None:
    clock = MemoryClock.of(rate_mts, family)
    exact = clocks * clock.t_ck_ps
    assert to_clocks(exact, clock, family, rounding) == clocks
    assert to_clocks(exact + 1, clock, family, rounding) >= clocks


def sheets(family: Family) -> st.SearchStrategy[dict[str, int]]:
    return st.fixed_dictionaries(
        {}, optional={name: st.integers(rule.least_nck, 1500) for name, rule in RULES[family].items()}
    )


@given(st.data(), st.sampled_from(sorted(RATES)), st.sampled_from(Rounding))
def test_a_carried_sheet_never_violates_a_minimum_and_keeps_its_times(
    data: st.DataObject, family: Family, rounding: Rounding
) -> None:
    sheet = data.draw(sheets(family))
    before, after = data.draw(st.sampled_from(RATES[family])), data.draw(st.sampled_from(RATES[family]))
    assert carry(sheet, family, before, before, rounding) == sheet
    assume(before != after)
    carried = carry(sheet, family, before, after, rounding)
    told = [one for one in check_timings(carried, family) if (family, one.name) != (FOUR, "t_cwl_nck")]
    assert told == [] or max(carried.values()) > 1500
    assert carried.keys() == sheet.keys()
    for name, clocks in carried.items():
        if RULES[family][name].scaling is Scaling.LONGEST:
            assert clocks <= 1 or MemoryClock(after).ns(clocks) <= MemoryClock(before).ns(sheet[name]) + 1e-6
        elif RULES[family][name].stays(sheet[name]):
            assert clocks >= sheet[name]
        elif name != "t_cwl_nck" and rounding is Rounding.CAUTIOUS:
            assert MemoryClock(after).ns(clocks) >= MemoryClock(before).ns(sheet[name]) - 1e-6


@given(st.data(), st.sampled_from(sorted(RATES)))
def test_what_is_mended_stays_and_nothing_is_made_tighter(data: st.DataObject, family: Family) -> None:
    sheet = data.draw(st.dictionaries(st.sampled_from(sorted(RULES[family])), st.integers(1, 1500), min_size=1))
    once = mended(sheet, family)
    assert mended(once, family) == once
    assert all(once[name] >= value for name, value in sheet.items() if name != "t_cwl_nck")


@pytest.mark.parametrize(
    ("family", "sheet", "name", "standing", "words"),
    [
        (FIVE, {"t_ras_nck": 70, "t_rp_nck": 30, "t_rc_nck": 96}, "t_rc_nck", TimingFault.INERT, r"tRAS \+ tRP is 100"),
        (FIVE, {"t_rcd_nck": 36, "t_rtp_nck": 12, "t_ras_nck": 40}, "t_ras_nck", TimingFault.INERT, r"tRTP is 48"),
        (FOUR, {"t_rrd_s_nck": 6, "t_faw_nck": 20}, "t_faw_nck", TimingFault.INERT, r"4 × tRRD_S is 24: .*window"),
        (FIVE, {"t_cl_nck": 36, "t_cwl_nck": 36}, "t_cwl_nck", TimingFault.INERT, r"tCL − 2 is 34: DDR5 has no"),
        (FIVE, {"t_cl_nck": 37}, "t_cl_nck", TimingFault.NOT_ALLOWED, "only even"),
        (FOUR, {"t_cwl_nck": 13}, "t_cwl_nck", TimingFault.NOT_ALLOWED, "mode register 2"),
        (FOUR, {"t_rrd_s_nck": 3}, "t_rrd_s_nck", TimingFault.TOO_LOW, "no fewer than 4"),
        (FIVE, {"t_rfc1_nck": 300, "t_rfc2_nck": 384}, "t_rfc1_nck", TimingFault.TOO_LOW, "tRFC2 is 384"),
    ],
)  # fmt: skip
def test_each_remark_explains_itself(
    family: Family, sheet: dict[str, int], name: str, standing: TimingFault, words: str
) -> None:
    (remark,) = check_timings(sheet, family)
    assert (remark.name, remark.standing) == (name, standing)
    assert re.search(words, remark.text)
    assert remark.least_nck > 0


@pytest.mark.parametrize(
    ("family", "from_mts", "to_mts", "sheet"),
    [
        # Counts of JESD79-5 stay: an activate costs as many clocks at every rate. So with DDR4 pages of 1 KiB.
        (FIVE, 4800, 6400, {"t_rrd_s_nck": (8, 8), "t_faw_nck": (32, 32), "rd_wr_gap_nck": (14, 14)}),
        (FIVE, 6400, 4800, {"t_rrd_s_nck": (8, 8), "t_faw_nck": (40, 40), "t_rrd_l_nck": (16, 12)}),
        (FOUR, 2400, 3200, {"t_rrd_s_nck": (4, 4), "t_faw_nck": (16, 16), "t_rrd_l_nck": (6, 8)}),
        # Pages of 2 KiB: 5.3 ns and 30 ns.
        (FOUR, 2400, 3200, {"t_rrd_s_nck": (7, 10), "t_faw_nck": (36, 48)}),
        # Greater of both: 2.5 ns are 4 clocks at 3200 and 8 at 6400, never fewer than 4.
        (FIVE, 3200, 6400, {"t_wtr_s_nck": (4, 8), "t_rtp_nck": (12, 24), "t_ccd_l_nck": (8, 16)}),
        (FIVE, 6400, 3200, {"t_wtr_s_nck": (6, 4), "t_rtp_nck": (20, 12)}),
    ],
)
def test_counts_stay_times_keep_and_the_greater_of_both_counts(
    family: Family, from_mts: int, to_mts: int, sheet: dict[str, tuple[int, int]]
) -> None:
    carried = carry({name: before for name, (before, _) in sheet.items()}, family, from_mts, to_mts)
    assert carried == {name: after for name, (_, after) in sheet.items()}


def test_a_value_without_effect_counts_as_what_is_taken_instead() -> None:
    sheet = {"t_rcd_nck": 44, "t_rtp_nck": 31, "t_ras_nck": 45, "t_rp_nck": 53, "t_rc_nck": 100}
    said = {one.name: one.least_nck for one in check_timings(sheet, FIVE)}
    assert said == {"t_ras_nck": 75, "t_rc_nck": 128}
    assert figures(sheet, 4800, FIVE).row_cycle_ns == pytest.approx(128 / 2.4)


def test_figures_and_what_refresh_means() -> None:
    sheet = {"t_cl_nck": 40, "t_rcd_nck": 39, "t_rp_nck": 39, "t_rc_nck": 116, "t_refi_nck": 9360, "t_rfc1_nck": 708}
    found = figures(sheet, 4800, FIVE)
    assert found.first_word_ns == pytest.approx(16.67, abs=0.01)
    assert found.row_conflict_ns == pytest.approx(49.17, abs=0.01)
    assert found.row_cycle_ns == pytest.approx(48.33, abs=0.01)
    assert (found.refresh_us, found.peak_gb_s) == (pytest.approx(3.9), 38.4)
    assert found.refresh_lost == pytest.approx(0.0756, abs=1e-4)
    fine = figures({**sheet, "t_rfc2_nck": 384, "refresh_fineness": 2}, 4800, FIVE)
    assert (fine.refresh_us, fine.cells_hold_us) == (pytest.approx(1.95), pytest.approx(3.9))
    assert fine.refresh_lost == pytest.approx(2 * 384 / 9360)
    assert figures({**sheet, "refresh_fineness": 2}, 4800, FIVE).refresh_lost is None
    assert figures({}, 3200, FOUR).first_word_ns is None
    assert "up to 85 °C" in refresh_note(3.9, FIVE)
    assert "good above 85 °C" in refresh_note(3.9, FOUR)
    assert "4.0 times as long" in refresh_note(15.6, FIVE)
