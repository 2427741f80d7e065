"""The march kernels against an array with faults: what theory says they find, they find, cell for cell."""

import pytest

from tenaz.loads.march import KEPT, MARCH_TESTS, parse_march
from tenaz.loads.proof.faults import Fault, Model, all_faults
from tenaz.loads.proof.prove import COPY, MOVES, CopyProver, ProofMode, Prover, prove

CELLS = 4
ALL, NONE = 1.0, 0.0

# Published coverage: van de Goor 1991 (MATS+, C−, LR for the classic models); Hamdioui, van de Goor, Rodgers 2002 (SS
# for all static simple faults; the single-cell primitives of the others). None: only in part.
THEORY: dict[Model, tuple[float | None, ...]] = {
    Model.STUCK_AT: (ALL, ALL, ALL, ALL),
    Model.TRANSITION: (0.5, ALL, ALL, ALL),
    Model.DECODER: (ALL, ALL, ALL, ALL),
    Model.INVERSION: (None, ALL, ALL, ALL),
    Model.IDEMPOTENT: (None, ALL, ALL, ALL),
    Model.STATE: (None, ALL, ALL, ALL),
    Model.READ_DESTRUCTIVE: (ALL, ALL, ALL, ALL),
    Model.DECEPTIVE: (NONE, NONE, NONE, ALL),
    Model.WRITE_DISTURB: (NONE, NONE, NONE, ALL),
    Model.INCORRECT_READ: (ALL, ALL, ALL, ALL),
    Model.COUPLED: (None, None, None, ALL),
    Model.RETENTION: (NONE, NONE, NONE, NONE),
}


@pytest.mark.parametrize(("place", "name"), list(enumerate(MARCH_TESTS)))
def test_each_test_finds_what_theory_says_cell_for_cell(place: int, name: str) -> None:
    prover = Prover(parse_march(MARCH_TESTS[name]), ProofMode.DIRECT, CELLS)
    missed: dict[Model, list[Fault]] = {model: [] for model in Model}
    faults: dict[Model, int] = dict.fromkeys(Model, 0)
    for fault in all_faults(CELLS):
        faults[fault.model] += 1
        if not prover.finds(fault):
            missed[fault.model].append(fault)
    for model, row in THEORY.items():
        if row[place] is not None:
            assert 1 - len(missed[model]) / faults[model] == row[place], (name, model, missed[model][:3])
        else:
            assert 0 < len(missed[model]) < faults[model], (name, model)
    if name == "MATS+":
        assert all(fault.value == 1 for fault in missed[Model.TRANSITION]), "the falling one is not read back"
    assert not prover.finds(None), "a good array passes"


def test_what_a_cache_takes_away_a_flush_gives_back() -> None:
    tests = [(name, MARCH_TESTS[name]) for name in ("C-", "SS")]
    part = {(one.test, one.mode, one.model): one.part for one in prove(tests, cells=CELLS)}
    assert part["C-", ProofMode.CACHED, Model.IDEMPOTENT] < ALL
    for model in (Model.STUCK_AT, Model.DECODER, Model.INVERSION, Model.IDEMPOTENT, Model.STATE, Model.TRANSITION):
        assert part["C-", ProofMode.FLUSHED, model] == ALL
    assert part["SS", ProofMode.FLUSHED, Model.DECEPTIVE] == NONE
    for model in (Model.DECEPTIVE, Model.WRITE_DISTURB, Model.IDEMPOTENT, Model.DECODER):
        assert part["SS", ProofMode.BLOCKS, model] == ALL


def test_reading_ahead_costs_couplings_of_cells_that_near_and_nothing_else_of_the_classic_models() -> None:
    tests = [("C-", MARCH_TESTS["C-"])]
    part = {one.model: one.part for one in prove(tests, [ProofMode.FLUSHED], CELLS, ahead=1)}
    assert 0.8 < part[Model.IDEMPOTENT] < ALL
    for model in (Model.STUCK_AT, Model.TRANSITION, Model.STATE, Model.READ_DESTRUCTIVE, Model.INCORRECT_READ):
        assert part[model] == ALL


@pytest.mark.parametrize("mode", [ProofMode.DIRECT, ProofMode.CACHED])
def test_copy_finds_what_is_stuck_and_what_does_not_turn(mode: ProofMode) -> None:
    part = {one.model: one.part for one in prove([(COPY, MOVES)], [mode], CELLS)}
    for model in (Model.STUCK_AT, Model.TRANSITION, Model.READ_DESTRUCTIVE, Model.INCORRECT_READ):
        assert part[model] == ALL, model
    assert part[Model.STATE] > 0.5
    assert part[Model.RETENTION] == NONE
    assert not CopyProver(mode, CELLS).finds(None), "a good array passes"


def test_only_waiting_finds_what_leaks() -> None:
    leaks = [fault for fault in all_faults(CELLS) if fault.model is Model.RETENTION]
    flushed = Prover(parse_march(KEPT), ProofMode.FLUSHED, CELLS, pausing=True)
    assert all(flushed.finds(fault) for fault in leaks)
    cached = Prover(parse_march(KEPT), ProofMode.CACHED, CELLS, pausing=True)
    assert not all(cached.finds(fault) for fault in leaks), "which is why the load flushes before it waits"
