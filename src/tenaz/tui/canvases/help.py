"""What each canvas tells of itself: what it shows, its marks, its keys, its arithmetic and where that comes from."""

from dataclasses import dataclass

from tenaz.pictures.drawing.marks import ALARM_MARKS, MARKS, NEXT, RUNNING

OUTCOMES = tuple((mark.sign, mark.word) for mark in (*MARKS.values(), RUNNING, NEXT))
ALARMS = tuple((mark.sign, mark.word) for mark in ALARM_MARKS.values())


@dataclass(frozen=True, slots=True)
class CanvasHelp:
    """``keys`` are actions of the commands; ``sums`` says how figures come about, and by whose work."""

    shows: str
    marks: tuple[tuple[str, str], ...]
    keys: tuple[str, ...]
    sums: str = ""


HELP = {
    "climb": CanvasHelp(
        "Trials from left to right against the value of the knob in hand, harder is up. Lines behind the "
        "marks are what is known after each: the hardest value that held, the easiest that failed. At the"
        " right, where the edge of the purpose lies and with what chance, and how many hours each value "
        "runs to a failure.",
        (
            *OUTCOMES,
            ("▒", "guard band: past what can be advised, before what failed"),
            ("·· ", "what would be believed had nothing been tried"),
            ("┊", "hours to a failure that the purpose tolerates"),
            ("•", "a value's own hours to a failure, with its interval of 90 %"),
            ("↑", "a bar stands for the edge from its value to the next row up"),
            ("!", "something that does not fit: a stray failure, a drift, an odd slope"),
        ),
        ("climb", "follow_next", "choose_load", "choose_strategy", "point_at", "look_back", "note_trial", "end_climb"),
        "Failures come at a rate that grows e-fold over so many steps (the slope); the posterior over "
        "edge, slope and tail is exact on a grid, from failure times, clean times and starts (right-"
        "censored lifetimes). Its prior is learnt from simulated rigs. Advised is the hardest value that "
        "is tolerated as surely as the purpose asks.",
    ),
    "margins": CanvasHelp(
        "For every knob that was moved from what is in use: the way from there to its edge, on a scale of its own.",
        (
            ("│", "in use"),
            ("▾", "the hardest value that can be advised"),
            ("━", "where the edge lies, 95 %"),
            ("●", "held"),
            ("✗", "failed"),
        ),
        ("move_time", "choose_load"),
        "Shown: an exact bound for n failures in T hours, χ²(95 %; 2n + 2) / 2T (Garwood 1936). Model: "
        "what the posterior extends it to. Next hour: by how much another clean one would raise what can "
        "be advised. An edge found while other values stood: where all that moved since asks less, what "
        "held holds still; where all asks more, what failed fails still; one trial asks the rest.",
    ),
    "cycle": CanvasHelp(
        "What the timings make of one row, to scale in ns: activate, read, precharge, next activate; a "
        "write with its recovery; four activates and the window; refresh with the share of time that it "
        "costs.",
        (
            ("━", "a timing that decides; ┄ one that has no effect, or is too low"),
            ("╎ ╢", "the least that the other timings ask for"),
            ("▒", "data on the bus"),
        ),
        ("find_knob", "carry_sheet", "compare_next", "note_value"),
        "Clocks to ns by the data rate: two transfers a clock. Minima and what carries as a time: the "
        "tables of timing parameters in JESD79-4 (DDR4) and JESD79-5 (DDR5); the rules round up by them, "
        "or carefully above them.",
    ),
    "sheet": CanvasHelp(
        "The whole setpoint by pages of the firmware: what changes with its old value, what that is in ns, notes.",
        (("▸", "changes, or is in hand"), ("[x]", "typed in"), ("[ ]", "to be typed in")),
        ("tick_line", "untick_line", "show_differing", "save_setpoint", "restore_setpoint", "correct_grid"),
        "ns are clocks × 2000 / data rate. What did not fit when it was carried says why, and what was asked.",
    ),
    "load": CanvasHelp(
        "A lane a worker: its core, lap, rate, the clock that core was measured to reach, when it last "
        "verified, errors. Under it every sensor on one time axis, with its ceilings, and what happened.",
        ALARMS,
        ("move_time", "zoom_time", "filter_lines", "point_at", "stop_run"),
        "A clock is measured by timed chains of dependent additions, not asked for. A curve's band is the"
        " lowest and highest reading of its stretch.",
    ),
    "prints": CanvasHelp(
        "Where wrong values lay: bit lanes across, regions of addresses down, which way they were wrong, "
        "and in words what that points to.",
        (("·", "one wrong bit in that lane and region"), ("+", "a few"), ("#", "many"), ("┄", "none")),
        ("point_at", "turn_canvas"),
        "Each wrong value is read once more: stored wrong if it stays, wrong on the way if not. Suspects "
        "are weighed by how each kind of fault scatters over lanes, rows and time.",
    ),
    "memory": CanvasHelp(
        "Physical memory from the lowest address up: what loads went over at least once, and how often; what the "
        "kernel or the firmware had each time; where something was wrong.",
        (
            ("1…9", "gone over so often, in whole laps"),
            ("+", "more often"),
            ("◐", "not all of it"),
            ("·", "kept free of the kernel, and not gone over yet"),
            ("k", "left to the system every time"),
            ("f", "the firmware's"),
            ("✗", "wrong values there"),
        ),
        ("start_trial", "choose_load", "export_canvas"),
        "The share is of all that is fitted, by the firmware's tables. Where a block lies is told by the system to "
        "root; the stick starts twice, each time with another range kept from the kernel, and so reaches nearly all.",
    ),
    "scores": CanvasHelp(
        "What is in force against another setpoint, in percent, better to the right: a dot a figure, with the interval "
        "that holds it. Under it latency and bandwidth against block size, other setpoints that were measured, what "
        "holds the rig back and what a watt gives.",
        (
            ("●", "what was gained"),
            ("├ ┤", "where the gain lies, 95 % for all leading figures together"),
            ("┊", "the least gain that is worth a risk: half a percent"),
            ("○ ●", "in the curves: before, now"),
        ),
        ("measure", "tell_against", "move_time", "export_canvas"),
        "Medians of repeats, compared by their logarithms in least squares; measured in turn (now, before, before, "
        "now) a drift is fitted beside the gain. What differs from start to start has a prior of 0.3 % and is learnt; "
        "intervals are Student's, shared by all leading figures (Bonferroni).",
    ),
    "field": CanvasHelp(
        "Two knobs together: the first to the right, the second upwards, harder is further out. Each cell is a pair of "
        "values with all else as where the field began. The dialled values are the cursor: dialling moves it, its "
        "trials stand below.",
        (
            *OUTCOMES,
            ("░", "follows from what was tried: holds"),
            ("▓", "tolerated by the purpose as surely as it asks"),
            ("?", "open"),
            ("·", "follows: fails"),
            ("[ ]", "the dialled values"),
        ),
        ("begin_field", "climb", "start_trial", "put_on_plan", "export_canvas"),
        "A boundary that never rises with harder values; how steeply it falls and how often a failing cell passes are "
        "weighed as stories, all sums exact (forward and backward along the columns). Next is what tells most. "
        "Tolerated lies as far inside as the knob's usual slope asks for the purpose's rate.",
    ),
    "night": CanvasHelp(
        "The whole rig tuned alone. Down the spine are the legs of the route; to its left what each cost in hours, to "
        "its right what it is expected to have gained of the score, and what it moved. Under each how its trials "
        "ended, and why it went no further.",
        (
            *OUTCOMES,
            ("▒", "half an hour that a leg took"),
            ("█", "half a percent of the score"),
            ("░", "given up for what comes: voltages raised for a higher rate"),
            ("◇", "where it is now"),
        ),
        ("begin_night", "end_climb", "stop_run", "export_canvas"),
        "The score is the geometric mean of bandwidth, latency and throughput. Along a knob each trial is that which "
        "is expected to raise the value that can be advised most for its hours; a leg ends where an hour gains too "
        "little. Many timings go together, and who fails is found by group testing. At the end runs what the purpose "
        "asks for; stopped before that, the rig goes back to what was proven last.",
    ),
    "rig": CanvasHelp(
        "What is wrong with it? The board with suspicion as its ink: slots by channel, modules, cores, cooler, supply, "
        "controller, board; under it who it may be and what speaks for it, and what tells most a minute. F: what is "
        "known of the rig instead.",
        (
            ("▓", "how suspect a part is: ░ ▒ ▓ █"),
            ("◇", "what comes next"),
            ("+", "speaks for it"),
            ("−", "speaks against it"),
            ("║", "pointed at"),
        ),
        (
            "show_find",
            "follow_next",
            "point_at",
            "work_on_parts",
            "label_part",
            "tick_symptom",
            "write_claim",
            "edit_rig",
        ),
        "Every cause and every pair of causes is weighed by Bayes' rule over symptoms, failure times, clean times, "
        "prints and sensors, with rates that were learnt from simulated faults (tenaz study faults --learn). What "
        "comes next has the greatest mutual information with who is at fault, for its minutes. A click on a module and "
        "then on a slot moves it.",
    ),
    "plan": CanvasHelp(
        "Trials to come, each as long as its load; under it the account of the newest run for whoever "
        "comes back to it, and what was noted to come back to.",
        (("▸", "pointed at"), ("━", "how long its load runs"), ("┈", "a whole climb"), *OUTCOMES[:4]),
        ("put_on_plan", "run_plan", "move_planned", "skip_planned", "point_at"),
        "A run ends after so many failures in a row, within its time, when anything gets too hot, or by s.",
    ),
    "book": CanvasHelp(
        "Everything that was done, the newest first; the trial pointed at is opened beneath: asked and in"
        " force, what ran, how warm, what was wrong, what was noted. With another marked, both stand side"
        " by side.",
        (("▸", "pointed at"), ("=", "compared with"), ("≠", "in force otherwise than asked"), *OUTCOMES),
        ("search_book", "point_at", "mark_trial", "correct_trial", "note_trial", "enter_past", "undo_record"),
        "Words must all hold: failed 2026-11 · data rate>=6000 march · moved:tcl · 'fan header' · #12 · "
        "all looks at every rig of the book.",
    ),
    "day": CanvasHelp(
        "How far the work on this rig has come, from taking it in to handing it over, and where everything stands.",
        (("●", "done"), ("◐", "begun"), ("✗", "failed"), ("·", "to come"), ("▸", "where to go on")),
        ("follow_next", "run_routine", "climb", "run_plan", "choose_rig"),
        "A stage is done when its evidence is in the book: the baseline when each kind of load that the "
        "purpose asks for held at stock, the proof when all its hours were shown at what is in force.",
    ),
}
