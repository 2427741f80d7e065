"""A PostgreSQL server of the tests' own: a private cluster in a temporary folder, reached by its socket only."""

import os
import shutil
import socket
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import count
from pathlib import Path

from sqlalchemy import create_engine

UNPRIVILEGED = "postgres"
"""Who runs it where the tests run as root: the server refuses that. Debian's package makes this user."""

_numbers = count(1)


def _run(*command: str) -> None:
    as_other = ["setpriv", f"--reuid={UNPRIVILEGED}", f"--regid={UNPRIVILEGED}", "--clear-groups"]
    whole = [*(as_other if os.geteuid() == 0 else []), *command]
    subprocess.run(whole, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, cwd="/", timeout=120)


class Server:
    """A running cluster; ``fresh`` makes an empty database and gives its URL."""

    def __init__(self, folder: Path, programs: Path, port: int = 0, commit_ms: int = 0) -> None:
        self._folder, self._programs, self._port, self._commit_ms = folder, programs, port, commit_ms

    def start(self) -> None:
        """Start it, without any port, or over TLS at one."""
        slow = f"-c fsync=on -c commit_siblings=0 -c commit_delay={self._commit_ms * 1000}"
        options = f"-k {self._folder} {slow if self._commit_ms else '-c fsync=off'} "
        if self._port:
            options += f"-c listen_addresses=localhost -p {self._port} -c ssl=on "
            options += f"-c ssl_cert_file={self._folder}/server.crt -c ssl_key_file={self._folder}/server.key"
        else:
            options += "-c listen_addresses="
        self._pg_ctl("start", "-l", str(self._folder / "log"), "-o", options)

    def stop(self) -> None:
        """Stop it at once."""
        self._pg_ctl("stop", "-m", "immediate")

    def log(self) -> str:
        """What it said so far."""
        return (self._folder / "log").read_text(errors="replace")

    def _pg_ctl(self, *what: str) -> None:
        _run(str(self._programs / "pg_ctl"), "-D", str(self._folder / "data"), "-w", "-s", *what)

    def url(self, database: str) -> str:
        """Where a database is."""
        return f"postgresql://tenaz@/{database}?host={self._folder}"

    def over_tls(self, database: str) -> str:
        """An empty database, reached across the network."""
        self._create(database)
        return f"postgresql://tenaz@localhost:{self._port}/{database}"

    def fresh(self) -> str:
        """An empty database."""
        name = f"book{next(_numbers)}"
        self._create(name)
        return self.url(name)

    def _create(self, name: str) -> None:
        url = f"{self.url('postgres')}{f'&port={self._port}' if self._port else ''}"
        engine = create_engine(url.replace("postgresql", "postgresql+psycopg", 1))
        with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
            connection.exec_driver_sql(f"CREATE DATABASE {name}")
        engine.dispose()


def _free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


@contextmanager
def server(certificate: Path | None = None, key: Path | None = None, commit_ms: int = 0) -> Iterator[Server]:
    """A server that is gone afterwards with all it kept; over TLS with a certificate; commits as slow as said."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"))
    assert found, "the Debian package postgresql is missing: make test installs it as root"
    folder = Path(tempfile.mkdtemp(prefix="pg-"))
    try:
        if os.geteuid() == 0:
            shutil.chown(folder, UNPRIVILEGED, UNPRIVILEGED)
        _run(str(found[-1]), "-D", str(folder / "data"), "-U", "tenaz", "-A", "trust", "-E", "UTF8", "--no-sync")
        port = 0
        if certificate is not None and key is not None:
            port = _free_port()
            for file, name in ((certificate, "server.crt"), (key, "server.key")):
                shutil.copy(file, folder / name)
                (folder / name).chmod(0o600)
                if os.geteuid() == 0:
                    shutil.chown(folder / name, UNPRIVILEGED, UNPRIVILEGED)
        running = Server(folder, found[-1].parent, port, commit_ms)
        running.start()
        try:
            yield running
        finally:
            running.stop()
    finally:
        shutil.rmtree(folder, ignore_errors=True)
