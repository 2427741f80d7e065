"""An emulated machine that a stick is put into: screen, keys, memory, and a plug that can be pulled."""

import contextlib
import json
import os
import re
import shutil
import socket
import struct
import subprocess
import time
import zlib
from pathlib import Path

OVMF = Path("/usr/share/OVMF")
KEYS = {
    " ": "spc", "\n": "ret", "-": "minus", "=": "equal", ".": "dot", ",": "comma", "/": "slash", ":": "shift-semicolon",
    "%": "shift-5", "<": "shift-comma", ">": "shift-dot", "_": "shift-minus", ";": "semicolon", "+": "shift-equal",
    "|": "shift-backslash",
}  # fmt: skip


class Emulated:
    """A machine with one stick, on TCG, started at once. ``firmware``: ``bios``, ``uefi`` or ``secure``."""

    def __init__(
        self, stick: Path, folder: Path, firmware: str = "bios", memory_mib: int = 2048, cores: int = 2,
        disks: tuple[Path, ...] = (), direct: tuple[Path, Path, str] | None = None, screen: str = "",
        registers: Path | None = None, more: tuple[str, ...] = (),
    ) -> None:  # fmt: skip
        folder.mkdir(parents=True, exist_ok=True)
        self.folder = folder
        self.serial = folder / "serial.log"
        self._control = folder / "control"
        self.debugger = folder / "debugger"
        self.line = folder / "line"
        for old in (self._control, self.debugger, self.line):
            old.unlink(missing_ok=True)
        command = ["qemu-system-x86_64", "-accel", "tcg,thread=multi", "-cpu", "max", "-smp", str(cores)]
        command += ["-m", str(memory_mib), "-display", "none", "-vga", "none", "-device"]
        command += [f"VGA{screen}", "-serial", f"file:{self.serial}"]
        command += ["-serial", f"unix:{self.line},server=on,wait=off", "-rtc", "base=utc", "-nic", "none"]
        command += ["-qmp", f"unix:{self._control},server=on,wait=off"]
        command += ["-gdb", f"unix:{self.debugger},server=on,wait=off"]
        command += ["-machine", "q35,smm=on" if firmware == "secure" else "q35"]
        command += ["-device", "qemu-xhci", "-drive", f"if=none,id=stick,format=raw,file={stick}"]
        command += ["-device", "usb-storage,drive=stick,bootindex=1,removable=on"]
        for number, disk in enumerate(disks):
            command += ["-drive", f"if=none,id=disk{number},format=raw,file={disk}"]
            command += ["-device", f"virtio-blk-pci,drive=disk{number}"]
        if firmware in ("uefi", "secure"):
            secure = firmware == "secure"
            variables = folder / "variables.fd"
            if not variables.is_file():
                shutil.copy(OVMF / ("OVMF_VARS_4M.ms.fd" if secure else "OVMF_VARS_4M.fd"), variables)
            code = OVMF / ("OVMF_CODE_4M.ms.fd" if secure else "OVMF_CODE_4M.fd")
            command += ["-drive", f"if=pflash,format=raw,readonly=on,file={code}"]
            command += ["-drive", f"if=pflash,format=raw,file={variables}"]
            if secure:
                command += ["-global", "driver=cfi.pflash01,property=secure,value=on"]
        if registers:
            size = registers.stat().st_size
            command += ["-object", f"memory-backend-file,id=registers,size={size},share=on,mem-path={registers}"]
            command += ["-device", "ivshmem-plain,memdev=registers"]
        command += more
        if direct:
            kernel, initrd, words = direct
            command += ["-kernel", str(kernel), "-initrd", str(initrd), "-append", words]
        self._said = (folder / "emulator.log").open("ab")
        self.process = subprocess.Popen(command, stdout=self._said, stderr=self._said)
        self._line: socket.socket | None = None
        self._shell: socket.socket | None = None

    def told(self, execute: str, **arguments: object) -> object:
        """Ask the emulator for something."""
        if self._line is None:
            self._line = connected(self._control)
            self._reader = self._line.makefile()
            self._reader.readline()
            self._ask("qmp_capabilities", {})
        return self._ask(execute, arguments)

    def _ask(self, execute: str, arguments: dict[str, object]) -> object:
        assert self._line is not None
        self._line.sendall(json.dumps({"execute": execute, "arguments": arguments}).encode() + b"\n")
        while True:
            answer = json.loads(self._reader.readline())
            if "return" in answer or "error" in answer:
                return answer.get("return", answer.get("error"))

    def monitor(self, line: str) -> str:
        """A line to the emulator's own monitor."""
        return str(self.told("human-monitor-command", **{"command-line": line}))

    def type(self, text: str) -> None:
        """Press the keys of a text."""
        for letter in text:
            self.press(KEYS.get(letter) or (f"shift-{letter.lower()}" if letter.isupper() else letter))

    def press(self, key: str) -> None:
        """Press one key, as the emulator names it."""
        self.monitor(f"sendkey {key}")
        time.sleep(0.15)

    def picture(self, out: Path) -> Path:
        """What is on the screen, as PNG."""
        raw = self.folder / "screen.ppm"
        raw.unlink(missing_ok=True)
        self.told("screendump", filename=str(raw))
        for _ in range(50):
            if raw.is_file() and raw.stat().st_size:
                break
            time.sleep(0.1)
        data = raw.read_bytes()
        head = re.match(rb"P6\s+(\d+)\s+(\d+)\s+255\s", data)
        assert head is not None
        width, height = int(head[1]), int(head[2])
        pixels = data[head.end() :]
        rows = b"".join(b"\0" + pixels[at : at + 3 * width] for at in range(0, 3 * width * height, 3 * width))
        chunks = (
            (b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)),
            (b"IDAT", zlib.compress(rows, 6)),
            (b"IEND", b""),
        )
        out.write_bytes(
            b"\x89PNG\r\n\x1a\n"
            + b"".join(
                struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))
                for name, body in chunks
            )
        )
        return out

    def wait_for(self, text: str, timeout_s: float) -> str:
        """Wait until a text was said on the serial line, and give all that was said."""
        until = time.monotonic() + timeout_s
        while time.monotonic() < until:
            said = self.serial.read_text(errors="replace") if self.serial.is_file() else ""
            if text in said:
                return said
            if self.process.poll() is not None:
                raise AssertionError(f"the machine went off before it said {text!r}: {said[-2000:]}")
            time.sleep(0.5)
        raise AssertionError(f"{text!r} was not said within {timeout_s:.0f} s: {self.serial.read_text()[-3000:]}")

    def shell(self, command: str, timeout_s: float = 120.0) -> str:
        """Run a command in the shell on the second serial line, and give what it said."""
        if self._shell is None:
            self._shell = connected(self.line)
        mark = f"done-{time.monotonic_ns()}"
        self._shell.sendall(f"{command}; echo {mark[:4]}${{x}}{mark[4:]}\n".encode())
        self._shell.settimeout(1.0)
        said, until = b"", time.monotonic() + timeout_s
        while mark.encode() not in said:
            if time.monotonic() > until:
                raise AssertionError(f"{command!r} did not end within {timeout_s:.0f} s: {said[-2000:]!r}")
            try:
                said += self._shell.recv(1 << 16)
            except TimeoutError:
                continue
        text = said.decode(errors="replace").replace("\r", "").replace("# ", "")
        return text[: text.index(mark)].strip()

    def forget_shell(self) -> None:
        """The machine restarts: whoever answers next is another."""
        if self._shell is not None:
            self._shell.close()
        self._shell = None

    def wait_for_shell(self, timeout_s: float) -> None:
        """Wait until somebody answers there."""
        until = time.monotonic() + timeout_s
        while time.monotonic() < until:
            with contextlib.suppress(AssertionError):
                if self.shell("echo here", 5.0).endswith("here"):
                    return
        raise AssertionError(f"no shell within {timeout_s:.0f} s")

    def pull_plug(self) -> None:
        """As if the power went."""
        self.process.kill()
        self.process.wait()

    def wait_off(self, timeout_s: float) -> None:
        """Wait until it switches itself off."""
        self.process.wait(timeout_s)

    def __enter__(self) -> "Emulated":
        return self

    def __exit__(self, *_: object) -> None:
        if self.process.poll() is None:
            self.pull_plug()
        self._said.close()


def connected(path: Path) -> socket.socket:
    for _ in range(100):
        try:
            line = socket.socket(socket.AF_UNIX)
            line.connect(os.fspath(path))
            return line
        except OSError:
            time.sleep(0.1)
    raise AssertionError(f"nobody answers at {path}")
