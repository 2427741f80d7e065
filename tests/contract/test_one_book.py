"""One book on a server, several machines: each writes in a copy of its own, and all see what any of them wrote."""

import subprocess
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from tenaz import orders as o
from tenaz.core.base.errors import BookError
from tenaz.core.ports.events import BookHeard
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.journal.opening.addresses import server_address
from tenaz.journal.opening.migrating import HEAD_REVISION
from tenaz.journal.opening.opening import OpenBook, open_book
from tenaz.journal.opening.roles import roles_sql
from tenaz.journal.opening.server import open_on_server
from tenaz.workshop.shop.shop import Workshop
from tests.doors.histories import History, differing, everything, fresh
from tests.doors.machines import Machines, machines
from tests.doors.server import Server, server
from tests.make import HOUR, SteppedClock
from tests.patience import PATIENCE_S


@pytest.fixture(scope="module")
def postgresql() -> Iterator[Server]:
    with server() as running:
        yield running


@pytest.fixture
def at(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Machines]:
    with machines(tmp_path, monkeypatch) as made:
        yield made


def wait_until(so: Callable[[], object]) -> None:
    until = time.monotonic() + PATIENCE_S
    while not so():
        assert time.monotonic() < until, "it never came"
        time.sleep(0.02)


def execute(url: str, *statements: str) -> None:
    engine = create_engine(url.replace("postgresql", "postgresql+psycopg", 1))
    with engine.begin() as connection:
        for statement in statements:
            connection.execute(text(statement))
    engine.dispose()


def test_what_one_bench_writes_the_others_see_and_a_rig_is_worked_on_by_one(
    postgresql: Server, at: Machines, rig: Rig, clock: SteppedClock
) -> None:
    url = postgresql.fresh()
    one = at.open("one", url)
    one.store.rigs.put(rig)
    assert one.hold("ridge")
    other = at.open("other", url)
    wait_until(lambda: other.store.rigs.names() == ("ridge",))
    assert not other.hold("ridge"), "somebody works on it"
    wait_until(lambda: "@" in other.holder("ridge"))
    trial = one.store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    wait_until(lambda: other.store.trials.count("ridge"))
    assert [found.uid for found in other.store.trials.of("ridge")] == [trial.uid]
    one.close()
    assert other.hold("ridge"), "whoever worked on it is gone"


def test_a_run_goes_on_while_the_server_is_away_and_comes_home(postgresql: Server, at: Machines) -> None:
    url = postgresql.fresh()
    at.stand_at("one")
    heard: list[object] = []
    bench = Workshop(heard.append)
    bench.open(url)
    bench.do(o.ChooseRig("ridge"))
    other = at.open("other", url)
    stock = bench.rig.stock
    going = bench.do(o.BeginSearch(("data_rate_mts",), stock, HOUR, strategy="adapt", steps=o.Steps()))
    wait_until(lambda: len(bench.store.trials.of("ridge")) > 2)
    postgresql.stop()
    try:
        wait_until(lambda: any(isinstance(event, BookHeard) and "does not answer" in event.words for event in heard))
        bench.running.wait()
    finally:
        postgresql.start()
    mine = bench.store.trials.of("ridge")
    assert bench.store.searches.one(going.id).ended  # type: ignore[union-attr]
    wait_until(lambda: len(other.store.trials.of("ridge")) == len(mine))
    bench.close()
    other.close()
    again = at.open("other", url)
    theirs = again.store.trials.of("ridge")
    assert [(trial.uid, trial.number, trial.outcome) for trial in theirs] == [
        (trial.uid, trial.number, trial.outcome) for trial in mine
    ]


def test_who_was_away_comes_home_beside_what_was_done_there(
    postgresql: Server, at: Machines, rig: Rig, clock: SteppedClock
) -> None:
    url = postgresql.fresh()
    first = at.open("home", url)
    first.store.rigs.put(rig)
    at.open("laptop", url).close()
    at.open("laptop", url)
    postgresql.stop()
    try:
        laptop = at.open("laptop", url)
        assert "kept here" in laptop.feeding.state.show()  # type: ignore[union-attr]
        assert laptop.hold("ridge"), "nobody can say who works on it"
        mine = laptop.store.trials.begin(rig, BenchKind.HAND, rig.stock, HOUR, clock)
        theirs = first.store.trials.begin(rig, BenchKind.HAND, rig.stock, HOUR, clock)
    finally:
        postgresql.start()
    wait_until(lambda: len(first.store.trials.of("ridge")) == len(laptop.store.trials.of("ridge")) == 2)
    assert everything(first.store) == everything(laptop.store)
    assert {one.uid for one in first.store.trials.of("ridge")} == {mine.uid, theirs.uid}


def test_who_only_looked_when_the_server_went_away_does_not_take_the_rig(
    postgresql: Server, at: Machines, rig: Rig
) -> None:
    url = postgresql.fresh()
    works = at.open("works", url)
    works.store.rigs.put(rig)
    assert works.hold("ridge")
    looks = at.open("looks", url)
    assert not looks.hold("ridge")
    wait_until(lambda: looks.holder("ridge"))
    postgresql.stop()
    try:
        wait_until(lambda: not looks.feeding.state.answers)  # type: ignore[union-attr]
        assert not looks.hold("ridge"), "whoever works on it is only not heard"
        assert looks.held_elsewhere("ridge")
    finally:
        postgresql.start()
    wait_until(lambda: looks.feeding.state.answers)  # type: ignore[union-attr]
    assert not looks.hold("ridge"), "and has it first when the server is back"
    wait_until(lambda: works.feeding.state.answers)  # type: ignore[union-attr]
    wait_until(looks.feeding.locks.others)  # type: ignore[union-attr]
    assert works.feeding.state.works_too == ""  # type: ignore[union-attr]


def test_random_histories_on_a_server_end_alike_too(postgresql: Server, at: Machines, tmp_path: Path) -> None:
    del at
    for seed in (3, 4):
        home = OpenBook(open_on_server(server_address(postgresql.fresh())))
        away = open_book(fresh(tmp_path, f"away-{seed}"))
        history = History(seed, home, away)
        history.play(16)
        assert differing(everything(home.store), everything(away.store)) == []
        home.close()
        away.close()


def test_a_home_brought_up_to_date_by_a_newer_one_is_left_alone(
    postgresql: Server, at: Machines, rig: Rig, clock: SteppedClock
) -> None:
    url = postgresql.fresh()
    one = at.open("one", url)
    one.store.rigs.put(rig)
    assert one.feeding is not None
    one.feeding.catch_up()
    execute(url, "UPDATE alembic_version SET version_num = '9999'")
    one.store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    feeding = one.feeding
    wait_until(lambda: "newer Tenaz" in feeding.state.why)
    execute(url, f"UPDATE alembic_version SET version_num = '{HEAD_REVISION}'")
    wait_until(lambda: feeding.state.answers)
    feeding.catch_up()
    other = at.open("other", url)
    assert other.store.trials.count("ridge") == 1, "what was written meanwhile came home"


def test_roles_look_work_and_keep(postgresql: Server, at: Machines, rig: Rig, clock: SteppedClock) -> None:
    url = postgresql.fresh()
    at.open("keeper", url).store.rigs.put(rig)
    at.close()
    execute(url, roles_sql(), *(f"CREATE ROLE {who} LOGIN IN ROLE tenaz_{who[2:]}" for who in ("a_look", "a_work")))
    working = at.open("bench", url.replace("//tenaz@", "//a_work@"))
    assert working.hold("ridge")
    working.store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    assert working.feeding is not None
    working.feeding.catch_up()
    looking = at.open("office", url.replace("//tenaz@", "//a_look@"))
    assert looking.store.trials.count("ridge") == 1
    with pytest.raises(BookError, match="the user a_look may only read it"):
        looking.store.rigs.put(rig)


def test_another_book_at_the_same_address_is_not_mixed_with_the_copy(postgresql: Server, at: Machines) -> None:
    url = postgresql.fresh()
    at.open("one", url)
    at.close()
    name = url.rpartition("/")[2].partition("?")[0]
    execute(url, "UPDATE about SET value = 'another' WHERE name = 'uid'")
    with pytest.raises(BookError, match=f"{name}.* is another than the one of which .* is the working copy"):
        at.open("one", url)


@pytest.mark.parametrize(
    ("said", "mode"),
    [("bench.example", "verify-full"), ("localhost", None), ("bench.example?sslmode=disable", "disable")],
)
def test_across_a_network_the_server_shows_who_it_is(said: str, mode: str | None) -> None:
    host, _, rest = said.partition("?")
    url = server_address(f"postgresql://me@{host}/book{'?' + rest if rest else ''}").url
    assert url.query.get("sslmode") == mode


def test_over_tls_a_server_is_known_by_its_certificate(
    tmp_path: Path, at: Machines, monkeypatch: pytest.MonkeyPatch
) -> None:
    certificate, key = tmp_path / "server.crt", tmp_path / "server.key"
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost",
         "-addext", "subjectAltName=DNS:localhost", "-keyout", key, "-out", certificate],
        check=True, capture_output=True,
    )  # fmt: skip
    monkeypatch.delenv("PGSSLMODE", raising=False)
    with server(certificate, key) as running:
        url = running.over_tls("book_tls")
        with pytest.raises(BookError, match="is not known for certain"):
            at.open("one", f"{url}?sslmode=verify-full&sslrootcert=system")
        opened = at.open("one", f"{url}?sslmode=verify-full&sslrootcert={certificate}")
        assert opened.feeding is not None
        assert opened.feeding.state.answers
        at.close()
