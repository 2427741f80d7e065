"""The ladder for modules: what was shown decides the next rung."""

from dataclasses import replace

import pytest

from tenaz.core.machine.machine import MemoryModule
from tenaz.core.parts.fitting import Fitting, as_seen, name_of
from tenaz.core.parts.isolation import Seen, ladder
from tenaz.core.parts.works import PartState, parse_label

GIB = 1 << 30


def module(serial: str, slot: str) -> MemoryModule:
    return MemoryModule(slot, 16 * GIB, serial=serial)


def empty(slot: str) -> MemoryModule:
    return MemoryModule(slot, 0)


WHOLE = Fitting((empty("A1"), module("0042", "A2"), empty("B1"), module("0051", "B2")))


BOTH_GOOD = {"module 0042 good", "module 0051 good"}


def only(serial: str, slot: str) -> Fitting:
    slots = [module(serial, one) if one == slot else empty(one) for one in ("A1", "A2", "B1", "B2")]
    return Fitting(tuple(slots))


@pytest.mark.parametrize(
    ("fails", "verdicts"),
    [
        (lambda f: f.sitting("0051") != "", {"module 0042 good", "module 0051 bad"}),
        (lambda f: any(one.slot == "B2" for one in f.fitted), {*BOTH_GOOD, "slot B2 bad"}),
        (lambda f: any(one.slot == "A2" for one in f.fitted), {*BOTH_GOOD, "slot A2 suspect"}),
        (lambda f: False, BOTH_GOOD),
    ],
)  # fmt: skip
def test_climbed_to_its_end_it_finds_who_it_was(fails: object, verdicts: set[str]) -> None:
    fittings, seen = [WHOLE], [Seen(WHOLE, fails(WHOLE), 60.0)]  # type: ignore[operator]
    for _ in range(12):
        now = ladder(fittings, seen)
        if now.next is None:
            break
        (*first, (serial, slot)) = now.next.sits
        fitting = only(serial, slot) if not first else WHOLE
        fittings.append(replace(fitting, aside=tuple(one for one in WHOLE.fitted if name_of(one) != serial)))
        assert {(name_of(one), one.slot) for one in fitting.fitted} == set(now.next.sits)
        seen.append(Seen(fitting, fails(fitting), 60.0))  # type: ignore[operator]
    assert now.next is None
    told = {f"{one.kind} {one.place} {one.state}" for one in now.verdicts}
    assert verdicts == told
    for one in now.verdicts:
        assert parse_label(one.label).state is PartState(one.state)


def test_what_the_firmware_sees_is_work_on_the_parts() -> None:
    assert as_seen(WHOLE, WHOLE.modules) is None
    assert as_seen(WHOLE, ()) is None
    alone = as_seen(WHOLE, only("0051", "A2").modules)
    assert alone is not None
    assert [name_of(one) for one in alone.fitted] == ["0051"]
    assert [name_of(one) for one in alone.aside] == ["0042"]
    assert alone.seated("A2") == 1
    back = as_seen(alone, WHOLE.modules)
    assert back is not None
    assert not back.aside
    assert len(back.fitted) == 2
