"""How a rig's parts stand, what hands do to them, and the labels on them."""

from dataclasses import replace
from datetime import UTC, datetime

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.readings import MEMORY, Reading, Source, show_seen, unseen_slots
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.parts.acts import ACTS, work
from tenaz.core.parts.fitting import ALL_MEMORY, Fitting, channel_of, name_of, unseen_in
from tenaz.core.parts.works import AS_IT_CAME, TYPED_IN, PartState, Work, fitting_at, named_all_along, parse_label
from tests.unit.finding.known import CORES, FOUR_SLOTS, after, slot


@given(st.lists(st.sampled_from([
    "move A2 B1", "move B2 A2", "pull A2", "pull B2", "fit 41 A1", "fit 42 B1", "alone A2", "reseat B2", "replace A2",
    "spare B2", "off 1", "on 1", "clean", "fan on", "fan off", "supply",
]), max_size=12))  # fmt: skip
@settings(deadline=None)
def test_no_module_is_ever_lost_or_doubled(acts: list[str]) -> None:
    fitting, came = FOUR_SLOTS, 2
    for act in acts:
        try:
            done = work(fitting, CORES, act)
        except Refused:
            continue
        came += act.startswith(("replace", "spare"))
        fitting = done.fitting
        assert done.minutes > 0
    names = [name_of(one) for one in (*fitting.fitted, *fitting.aside)]
    assert len(names) == len(set(names)) == came
    assert [one.slot for one in fitting.modules] == ["A1", "A2", "B1", "B2"]


def test_several_acts_are_done_in_turn_and_each_costs_its_minutes() -> None:
    done = work(FOUR_SLOTS, CORES, "pull A2; fit 41 B1 ; off 3")
    assert done.fitting.sitting("41") == "B1"
    assert done.fitting.cores_off == (3,)
    assert done.minutes == 4 + 4 + 2
    assert done.fitting.seated("B1") == 1
    assert "core 3 off" in done.fitting.care


@pytest.mark.parametrize(
    ("act", "words"),
    [
        ("pull Z9", "there is no slot Z9; there are A1, A2, B1, B2"),
        ("pull A1", "slot A1 is empty; modules sit in A2, B2"),
        ("fit 41 A1", "no module 41 was laid aside; there are: none"),
        ("move A2", "type it like: move A2 B1"),
        ("dance", "is nothing that is done to parts"),
        ("off 9", "there is no core 9; there are 0 to 3"),
        ("off ²", "there is no core ²"),
        ("replace A2 42", "a module 42 is here already"),
        ("fan sideways", "type fan on, or fan off"),
        ("", "is nothing that is done to parts"),
        ("pull A2;", "is nothing that is done to parts"),
    ],
)
def test_what_cannot_be_done_to_parts_says_what_can(act: str, words: str) -> None:
    with pytest.raises(Refused, match=words.replace("(", r"\(")):
        work(FOUR_SLOTS, CORES, act)


def test_one_core_stays_on() -> None:
    three = after(FOUR_SLOTS, "off 0", "off 1", "off 2")
    with pytest.raises(Refused, match="one core must stay on"):
        work(three, CORES, "off 3")


def test_every_act_is_listed_with_its_minutes() -> None:
    assert all(act.minutes > 0 and act.about and act.typed.startswith(act.word) for act in ACTS)


@pytest.mark.parametrize(
    ("seen_gib", "slots", "words"),
    [
        (32, (), ""),
        (31, (), ""),
        (16, (), "16 of 32 GiB seen: one module or more is not seen"),
        (None, ("A2",), "16 of 32 GiB seen: B2 not seen"),
        (None, (), ""),
    ],
)
def test_full_capacity_is_looked_at_and_what_is_missing_is_named(
    seen_gib: int | None, slots: tuple[str, ...], words: str
) -> None:
    assert unseen_in(FOUR_SLOTS, seen_gib * 2**30 if seen_gib else None, slots) == words


def test_slots_that_are_not_seen_are_read_back_as_they_were_told() -> None:
    read = Reading(MEMORY, "32.0 GiB", show_seen("16.0 GiB", ("B1", "B2")), source=Source.READ)
    assert unseen_slots([read]) == ("B1", "B2")
    assert unseen_slots([Reading(MEMORY, "32.0 GiB", "31.4 GiB")]) == ()
    assert unseen_slots([]) == ()


def test_a_trial_belongs_to_the_parts_as_they_stood() -> None:
    now, pulled = datetime(2026, 11, 26, tzinfo=UTC), after(FOUR_SLOTS, "pull A2")
    works = (Work(1, -1, AS_IT_CAME, "", 0.0, FOUR_SLOTS, now), Work(2, 3, "pull A2", "pulled", 4.0, pulled, now))
    assert [fitting_at(works, number, FOUR_SLOTS) for number in (1, 3, 4)] == [FOUR_SLOTS, FOUR_SLOTS, pulled]
    assert fitting_at((), 7, FOUR_SLOTS) == FOUR_SLOTS


def test_a_part_that_got_its_name_later_had_it_all_along() -> None:
    now, bare = datetime(2026, 11, 26, tzinfo=UTC), Fitting((slot("A2"), MemoryModule("B2", 2**34, part="LQ-16")))
    pulled = Fitting((slot("A2"), slot("B2")), aside=bare.fitted)
    named = Fitting((slot("A2"), replace(bare.modules[1], serial="42")))
    works = [
        Work(1, -1, AS_IT_CAME, "", 0.0, bare, now), Work(2, 1, "pull B2", "", 4.0, pulled, now),
        Work(3, 2, "fit LQ-16 B2", "", 4.0, bare, now), Work(4, 3, TYPED_IN, "", 0.0, named, now),
    ]  # fmt: skip
    told = named_all_along(works)
    assert [name_of(one) for work_ in told for one in (*work_.fitting.fitted, *work_.fitting.aside)] == ["42"] * 4
    unknown = Fitting((MemoryModule(ALL_MEMORY, 2**35, serial=ALL_MEMORY),))
    typed = [Work(1, -1, AS_IT_CAME, "", 0.0, unknown, now), Work(2, 5, TYPED_IN, "", 0.0, FOUR_SLOTS, now)]
    assert [one.fitting for one in named_all_along(typed)] == [FOUR_SLOTS, FOUR_SLOTS]
    assert named_all_along(()) == ()


def test_a_module_without_a_serial_is_called_by_what_is_known_and_channels_by_their_slots() -> None:
    assert name_of(slot("B1", "")) == "LQ-16 B1"
    assert [channel_of(one) for one in FOUR_SLOTS.modules] == ["A", "A", "B", "B"]
    assert Fitting().care == ""


@pytest.mark.parametrize(
    ("text", "kind", "place", "state", "words"),
    [
        ("module 2262 bad: fails alone in two slots", "module", "2262", PartState.BAD, "fails alone in two slots"),
        ("slot DIMM 0 suspect", "slot", "DIMM 0", PartState.SUSPECT, ""),
        ("Cooler good", "cooler", "", PartState.GOOD, ""),
        ("core 3 replaced: no", "core", "3", PartState.REPLACED, "no"),
    ],
)
def test_labels_are_read_as_they_are_written_on(text: str, kind: str, place: str, state: PartState, words: str) -> None:
    label = parse_label(text)
    assert (label.kind, label.place, label.state, label.text) == (kind, place, state, words)
    assert parse_label(label.show().replace(": ", " ", 1).replace(", ", ": ", 1)) == label


@pytest.mark.parametrize("text", ["", "module", "engine 3 bad", "module 2262", "module 2262 broken", "x" * 100_000])
def test_what_is_no_label_says_how_one_is_typed(text: str) -> None:
    with pytest.raises(Refused, match=r"(like: module 2262 bad|too long)"):
        parse_label(text)
