"""What the trade calls loads, ways in which a trial ends, and what is noticed of a rig."""

from tenaz.core.words.word import About, Word


def _load(name: str, means: str, *trade: str) -> Word:
    return Word(About.LOAD, name, means, trade)


def _outcome(name: str, means: str, *trade: str) -> Word:
    return Word(About.OUTCOME, name, means, trade)


def _symptom(name: str, means: str, *trade: str) -> Word:
    return Word(About.SYMPTOM, name, means, trade, name.replace("-", " "))


LOADS = (
    _load("march", "march tests over memory, every word verified", "memory test", "ram test", "memory stress",
          "ram stress", "pattern test", "march test", "walking bits", "stress memory", "test memory"),
    _load("checker", "alternating patterns, then their opposites", "checkerboard", "checkerboard test",
          "alternating pattern"),
    _load("permute", "memory in a scattered order", "random access", "random access test", "random order",
          "scattered access", "pointer chase"),
    _load("copy", "blocks copied and compared", "memory copy", "block move", "bandwidth stress", "copy test"),
    _load("retain", "written, left alone, read again", "retention test", "data retention", "refresh test",
          "decay test"),
    _load("disturb", "rows opened again and again beside others", "row hammer", "rowhammer", "row disturb",
          "hammer test", "hammer"),
    _load("transform", "Fourier transforms there and back, checked exactly", "fft", "cpu stress", "stress cpu",
          "cpu test",
          "processor stress", "processor test", "fourier", "arithmetic stress", "power virus", "all core stress"),
    _load("solve", "linear equations, checked by what is left over", "linear algebra", "matrix", "matrix multiply",
          "floating point", "floating point test", "fpu stress"),
    _load("digest", "digests of blocks, compared", "hash", "hashing", "checksum test", "integer test", "crypto"),
    _load("pulse", "from idle to full and back, many times a second", "load steps", "transient", "transient load",
          "load transients", "step load", "power steps"),
    _load("solo", "one core after the other at its highest boost", "single core", "single core test",
          "single core boost test", "per core test", "per core", "core by core", "core cycling", "one core at a time"),
    _load("paint", "pictures drawn over and over, compared to the last bit", "gpu test", "gpu stress", "graphics test",
          "graphics stress", "3d test", "3d stress", "draw test", "rendering test"),
    _load("shade", "a card's arithmetic there and back", "compute test", "gpu compute", "shader test",
          "compute shader", "shader stress"),
    _load("vram", "a march test over a card's memory", "video memory test", "gpu memory test", "card memory",
          "graphics memory test", "video ram test", "vram test"),
    _load("program", "a program of your own", "own program", "custom program", "external program", "game", "render"),
)  # fmt: skip
"""Kinds of load by their names."""

OUTCOMES = (
    _outcome("held", "ran to its end, and all that was verified was right", "ok", "pass", "passed", "passes", "stable",
             "clean", "no errors", "survived", "completed", "fine", "good"),
    _outcome("erred", "something that was verified was wrong", "error", "errors", "failed", "wrong result",
             "wrong results", "miscompare", "mismatch", "rounding error", "memory error", "memory errors"),
    _outcome("froze", "it stood still", "freeze", "frozen", "freezes", "hung", "hang", "hangs", "locked up",
             "lock up", "lockup", "stuck", "unresponsive", "hard lock"),
    _outcome("restarted", "it restarted or went off by itself", "rebooted", "reboot", "restart", "reset", "crashed",
             "crash", "shut off", "shuts off", "shut down", "shuts down", "shutdown", "powered off", "power off",
             "switched off", "turned off", "went off", "black screen", "went black"),
    _outcome("stop code", "the system stopped itself and showed a code", "blue screen", "bluescreen", "bsod",
             "stop error", "bug check", "bugcheck", "kernel panic", "panic", "stopcode", "machine check exception"),
    _outcome("picture faults", "wrong dots, blocks or stripes on the screen", "artifacts", "artefacts", "artifact",
             "artefact", "picture fault", "visual glitches", "graphics glitch", "driver crash", "display corruption",
             "flicker"),
    _outcome("no boot", "it did not come up", "does not start", "did not start", "won't start", "will not start",
             "does not boot", "did not boot", "won't boot", "no post", "won't post", "did not come up", "dead",
             "no signal", "no picture", "down", "training failed", "failed to train", "failed boot", "boot loop"),
    _outcome("too hot", "a temperature ceiling stopped it", "hot", "overheated", "overheating", "overheats",
             "thermal shutdown", "thermal trip"),
    _outcome("stopped", "somebody ended it", "aborted", "cancelled", "canceled", "interrupted"),
    _outcome("lost", "nobody knows how it ended", "unknown", "no idea", "power cut"),
)  # fmt: skip
"""Outcomes by their names."""

SYMPTOMS = (
    _symptom("crash", "it goes off or restarts without a message", "crash", "crashes", "crashed", "crashing",
             "goes black", "went black", "black screen", "black screens", "blackout", "black out", "restart",
             "restarts", "restarted", "restarting", "reboot", "reboots", "rebooted", "rebooting", "switches off",
             "switches itself off", "switched off", "goes off", "went off", "turns off", "turned off",
             "turns itself off", "shuts off", "shut off", "shuts down", "shut down", "shutdown", "shutting down",
             "powers off", "power off", "blue screen", "blue screens", "bluescreen", "bsod", "stop code", "bug check",
             "kernel panic", "resets", "reset"),
    _symptom("freeze", "it stands still", "freeze", "freezes", "freezing", "froze", "frozen", "hang", "hangs", "hung",
             "hanging", "stands still", "stand still", "stood still", "locks up", "lock up", "locked up", "lockup",
             "lockups", "stuck", "unresponsive", "does not respond", "doesn't respond"),
    _symptom("errors", "programs end, files are broken, wrong results", "error", "errors", "corrupt", "corrupted",
             "corruption", "broken file", "broken files", "damaged file", "damaged files", "wrong result",
             "wrong results", "program ends", "programs end", "programs close", "program closes", "programs stop",
             "closes itself", "closes by itself", "checksum", "checksums", "rounding error", "segfault",
             "segmentation fault", "crc"),
    _symptom("stutter", "it stutters; the system's log has corrected errors", "stutter", "stutters", "stuttering",
             "corrected error", "corrected errors", "jerk", "jerks", "jerky", "micro stutter", "lag", "lags"),
    _symptom("artefacts", "wrong dots or blocks on the screen", "artifact", "artifacts", "artefact", "artefacts",
             "dots on", "blocks on", "stripes", "flicker", "flickers", "flickering", "picture faults", "picture fault",
             "glitches", "snow", "sparkles"),
    _symptom("no-start", "at times it does not start", "does not start", "doesn't start", "did not start",
             "won't start", "will not start", "does not boot", "doesn't boot", "won't boot", "will not boot",
             "does not come up", "no start", "no boot", "no picture", "no signal", "no post", "won't post",
             "does not post", "dead", "boot loop", "boot loops", "beeps", "does not turn on", "won't turn on"),
    _symptom("less-memory", "at times it sees less memory", "less memory", "half the memory", "half of the memory",
             "half its memory", "half of its memory", "memory missing", "memory is missing", "missing memory",
             "not all memory", "not all the memory", "less ram", "half the ram", "missing ram", "ram missing"),
    _symptom("hot", "it is hot, or slow under load", "hot", "too warm", "overheats", "overheating", "overheat",
             "slow under", "throttle", "throttles", "throttling", "loud", "loud fan", "loud fans", "fans loud",
             "gets slow", "slows down"),
    _symptom("when-hot", "only when it is warm", "when hot", "when warm", "when it is hot", "when it is warm",
             "when it's hot", "when it's warm", "after an hour", "after some hours", "after a few hours",
             "after hours", "once warm", "once it is warm", "in summer", "when warmed up"),
    _symptom("one-program", "only in one program", "only in one", "only with one", "only in this", "only in that",
             "one program", "one game", "one application", "one app", "only this game"),
)  # fmt: skip
"""Symptoms by their names."""
