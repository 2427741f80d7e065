"""An ssh server of the tests' own on 127.0.0.1, and a line to it that can be cut, frozen and delayed."""

import os
import shutil
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from tenaz.wire.ways import SSH

SSHD = "/usr/sbin/sshd"
PIECE = 1 << 16


class Proxy:
    """Between the two ends of TCP connections: lets bytes through, or not."""

    def __init__(self, to_port: int) -> None:
        self._to_port = to_port
        self._door = socket.create_server(("127.0.0.1", 0))
        self.port: int = self._door.getsockname()[1]
        self.frozen = threading.Event()
        self.refuses = False
        self.delay_s = 0.0
        self.cut_after_bytes: int | None = None
        """So many more bytes from the far side go through, and then the line is cut."""
        self._lock = threading.Lock()
        self._ends: set[socket.socket] = set()
        threading.Thread(target=self._accept, daemon=True).start()

    def cut(self) -> None:
        """All connections are gone, at once."""
        with self._lock:
            ends, self._ends = tuple(self._ends), set()
        for end in ends:
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()

    def close(self) -> None:
        self._door.close()
        self.cut()

    def _accept(self) -> None:
        while True:
            try:
                near, _ = self._door.accept()
            except OSError:
                return
            if self.refuses:
                near.close()
                continue
            try:
                far = socket.create_connection(("127.0.0.1", self._to_port))
            except OSError:
                near.close()
                continue
            with self._lock:
                self._ends |= {near, far}
            for one, other, counts in ((near, far, False), (far, near, True)):
                threading.Thread(target=self._pass, args=(one, other, counts), daemon=True).start()

    def _pass(self, one: socket.socket, other: socket.socket, counts: bool) -> None:
        with suppress(OSError):
            while data := one.recv(PIECE):
                while self.frozen.is_set():
                    time.sleep(0.02)
                if self.delay_s:
                    time.sleep(self.delay_s)
                if counts and self.cut_after_bytes is not None:
                    data = data[: self.cut_after_bytes]
                    self.cut_after_bytes -= len(data)
                    other.sendall(data)
                    if self.cut_after_bytes <= 0:
                        self.cut_after_bytes = None
                        self.cut()
                        return
                    continue
                other.sendall(data)
        self._drop(one, other)

    def _drop(self, *ends: socket.socket) -> None:
        for end in ends:
            with self._lock:
                self._ends.discard(end)
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()


class Sshd:
    """A running server. ``host`` is what ssh knows it by; ``home`` is the far side's own, with its agent's notes."""

    host = "bench-3"

    def __init__(self, folder: Path) -> None:
        self.folder, self.home = folder, folder / "far"
        self.home.mkdir(mode=0o700)
        for name in ("host", "user"):
            subprocess.run(
                ["ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", str(folder / name)], check=True, timeout=60
            )
        (folder / "authorized").write_text((folder / "user.pub").read_text())
        shell = folder / "shell"
        python = Path(sys.executable)
        bin_folder = self.home / "bin"
        bin_folder.mkdir()
        (bin_folder / "tenaz").write_text(f'#!/bin/sh\nexec "{python}" -m tenaz "$@"\n')
        (bin_folder / "tenaz").chmod(0o755)
        # As a login does: another home, a path, and a word of the login script before anything else.
        shell.write_text(
            f"#!/bin/sh\nexport HOME={self.home} XDG_STATE_HOME={self.home}/state PATH={bin_folder}:/usr/bin:/bin\n"
            f"unset XDG_RUNTIME_DIR XDG_DATA_HOME\necho welcome to bench-3\n"
            f'exec /bin/sh -c "$SSH_ORIGINAL_COMMAND"\n'
        )
        shell.chmod(0o755)
        with socket.create_server(("127.0.0.1", 0)) as probe:
            self._port = probe.getsockname()[1]
        (folder / "sshd.conf").write_text(
            f"ListenAddress 127.0.0.1\nPort {self._port}\nHostKey {folder}/host\nPidFile {folder}/pid\n"
            f"AuthorizedKeysFile {folder}/authorized\nStrictModes no\nUsePAM no\nPasswordAuthentication no\n"
            f"PermitRootLogin yes\nForceCommand {shell}\nMaxStartups 100\n"
        )
        self.proxy = Proxy(self._port)
        self.trust(folder / "host.pub")
        (folder / "ssh.conf").write_text(
            f"Host {self.host}\n  HostName 127.0.0.1\n  Port {self.proxy.port}\n  IdentityFile {folder}/user\n"
            f"  UserKnownHostsFile {folder}/known\n  IdentitiesOnly yes\n  StrictHostKeyChecking yes\n"
            f"  HostKeyAlias {self.host}\n"
        )
        self._process: subprocess.Popen[bytes] | None = None
        self.start()

    def trust(self, key: Path) -> None:
        """The key under which this machine knows the other."""
        (self.folder / "known").write_text(f"{self.host} {key.read_text()}")

    def start(self) -> None:
        Path("/run/sshd").mkdir(exist_ok=True)
        self._process = subprocess.Popen(
            [SSHD, "-D", "-e", "-f", str(self.folder / "sshd.conf")],
            stderr=(self.folder / "sshd.log").open("ab"),
        )
        deadline = time.monotonic() + 20
        while time.monotonic() < deadline:
            with suppress(OSError), socket.create_connection(("127.0.0.1", self._port), 1) as end:
                if end.recv(4):
                    return
            time.sleep(0.05)
        raise TimeoutError((self.folder / "sshd.log").read_text())

    def stop(self) -> None:
        """The server and whatever its sessions left behind."""
        self.proxy.close()
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        self.kill_agents()

    def agents(self) -> list[int]:
        """Processes of agents of this far side."""
        found = []
        for folder in Path("/proc").glob("[0-9]*"):
            with suppress(OSError):
                if f"HOME={self.home}".encode() in (folder / "environ").read_bytes().split(b"\0"):
                    found.append(int(folder.name))
        return found

    def kill_agents(self) -> None:
        for pid in self.agents():
            with suppress(ProcessLookupError):
                os.kill(pid, 9)

    def environment(self) -> dict[str, str]:
        """What makes the near side use this server."""
        return {SSH: f"{shutil.which('ssh')} -F {self.folder}/ssh.conf"}


@contextmanager
def sshd(folder: Path) -> Iterator[Sshd]:
    """A server that is gone afterwards."""
    server = Sshd(folder)
    try:
        yield server
    finally:
        server.stop()
