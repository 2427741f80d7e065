"""What the program calls things, what they are, and what the trade says: one word for one thing."""

from tenaz.core.words.word import About, Word


def _thing(name: str, means: str, *trade: str) -> Word:
    return Word(About.THING, name, means, trade)


THINGS = (
    _thing("rig", "the machine being tuned", "system", "build"),
    _thing("bench", "the way a rig is reached: `sim`, `here`, `hand`, `wire`", "test setup"),
    _thing("agent", "what answers for a rig across a wire: its bench, its guard, its notes", "remote agent", "daemon"),
    _thing("door", "a documented way of a machine's own by which values are set without hands", "management interface",
           "out-of-band management"),
    _thing("attribute", "what a door calls a setting; a map says which knob it is", "bios attribute"),
    _thing("notice", "one thing that happened there, numbered, kept until it is in the book"),
    _thing("last seconds", "what was heard of a machine just before it went, ten times a second", "black box"),
    _thing("knob", "one adjustable value: unit, grid, direction, ceilings", "setting", "option"),
    _thing("setpoint", "a full set of knob values; *stock* is the one that the rig came with", "settings", "profile"),
    _thing("grid", "the values that a knob can take", "steps", "increments"),
    _thing("strain", "a place on a knob's grid, harder is more; nothing else is called that"),
    _thing("step", "the difference between two setpoints", "change"),
    _thing(
        "rescaled",
        "a sheet brought to another data rate with its times kept (the key and the command say *carry*)",
        "scaled timings",
    ),
    _thing("remark", "what is said of a timing: too low, without effect, not allowed (`TimingFault`)", "warning"),
    _thing("load", "one kind of stress, verified", "stress", "test"),
    _thing(
        "load mix",
        "kinds of load at once, with their memory and cores, in the simulated machine (`LoadMix`)",
        "combined load",
    ),
    _thing("worker", "one process of a load, on one core (`WorkerProgress`)", "thread"),
    _thing("data line", "one of the wires that bits travel on; *lane* in prints", "dq", "data lane"),
    _thing("lap", "the chosen memory once through one load", "pass", "cycle"),
    _thing("routine", "loads in turn, each with its time", "test run"),
    _thing("planted", "of errors: put there by a worker, to be found by its own check", "fault injection"),
    _thing("trial", "one turn of the loop at one setpoint: set, boot, confirm, load, judge", "run"),
    _thing("outcome", "how a trial ended", "result"),
    _thing("verdict", "what a trial counts as: pass, fail, void", "result"),
    _thing("diagnosis", "which part is at fault, and whether that is sure enough (`Diagnosis`)", "diagnosis"),
    _thing("part verdict", "what isolation by module has shown of one part (`PartVerdict`)"),
    _thing("sighting", "what one trial says: of an edge (`EdgeSighting`), of parts (`FaultSighting`)", "data point"),
    _thing("series", "all that one kind of load has shown along a line (`LoadSeries`)", "data series"),
    _thing(
        "parameter grid",
        "edge, slope and tail as places whose chances are added up (`ParameterGrid`)",
        "parameter grid",
    ),
    _thing("evidence", "what all trials at a setpoint add up to, by kind of load", "test coverage"),
    _thing("reach", "what a load really got at: share of memory, cache level, cores, mode", "coverage"),
    _thing(
        "owed",
        "what the purpose asks for and was not shown yet; a hundredth that lacks is there (`core/evidence/owing.py`)",
        "remaining tests",
    ),
    _thing("edge", "the hardest value whose failure rate the purpose still tolerates", "limit", "wall"),
    _thing("margin", "the distance from the setpoint in use to the edge", "headroom"),
    _thing("guard band", "the distance that is kept from the edge", "safety margin"),
    _thing("purpose", "what the rig is for: what it tolerates, the hours asked for", "use case"),
    _thing("safe", "shown in all three parts of the verdict, see the guide (`margins/safety.py`)", "stable"),
    _thing("search", "any strategy at work; a row in the book", "search", "sweep"),
    _thing("climb", "a search along one knob, and nothing else", "stepping", "sweep"),
    _thing("field", "a search over two knobs, and its picture", "shmoo plot"),
    _thing(
        "culprit",
        "a search for which of many values fails (`unpick` in the code, and still a command)",
        "bisection",
        "group testing",
        "unpick",
    ),
    _thing("night", "a whole rig tuned with nobody there", "unattended run"),
    _thing(
        "ground",
        "what something works on: `SearchGround`, `NightGround`, `DayGround`, `PlanGround`, `ReportGround`",
        "context",
    ),
    _thing("coming", "what comes next, with its reason and the order that does it (`advice/`)", "suggestion"),
    _thing("order", "something that is to be done, as a value", "command"),
    _thing("shelf", "one rig's trials at hand", "cache"),
    _thing("view", "what the workbench shows at one moment, in parts", "state"),
    _thing("page", "what stands in the middle of the workbench; one object in one file", "page"),
    _thing("error pattern", "the pattern that wrong values leave (`print` in the code)", "print"),
    _thing(
        "isolation",
        "modules tried one after the other (`core/parts/isolation.py`; *ladder* in the stick's words)",
        "swap test",
    ),
    _thing("standing order", "what the stick does when nobody is there (`StandingOrder`)", "boot script"),
    _thing("oddity", "what is pointed out of a machine as it was read", "finding"),
    _thing("book", "rigs, setpoints, trials, telemetry, notes", "log"),
    _thing("score", "how fast a rig is, with its noise", "benchmark"),
    _thing("stick", "the medium that brings Tenaz to a machine without a system", "live usb"),
)  # fmt: skip
"""Words of the program, in the order of the work."""
