"""What the trade calls what one does: in the workbench, and with one's hands."""

from tenaz.core.words.word import About, Word


def _action(name: str, said: str, means: str, *trade: str) -> Word:
    return Word(About.ACTION, name, means, trade, said)


def _act(name: str, means: str, *trade: str) -> Word:
    return Word(About.ACT, name, means, trade)


ACTIONS = (
    _action("start_trial", "trial", "start one trial at the dialled values", "test", "run test", "start test",
            "run stress", "try it", "run"),
    _action("run_routine", "routine", "loads in turn at the dialled values", "test suite", "burn in", "soak test",
            "stability test", "full test"),
    _action("choose_load", "load", "choose the load of the next trial", "stress", "stress test", "choose test",
            "select test", "workload"),
    _action("measure", "measure", "measure how fast it is", "benchmark", "bench", "score", "speed test", "performance",
            "bandwidth", "latency"),
    _action("climb", "climb", "search along the knob in hand", "sweep", "step up", "find the limit", "find limit",
            "push", "overclock", "auto tune"),
    _action("begin_field", "field", "search over two knobs", "shmoo", "shmoo plot", "map two settings"),
    _action("begin_night", "night", "tune the whole rig alone", "auto overclock", "unattended", "overnight",
            "automatic tuning"),
    _action("stop_run", "stop", "stop what runs", "abort", "cancel", "halt"),
    _action("undo", "undo", "take back what was done last", "revert"),
    _action("redo", "redo", "do again what was taken back", "do again"),
    _action("dial_stock", "stock", "dial everything to stock", "defaults", "load defaults", "optimized defaults",
            "factory settings", "reset settings"),
    _action("save_setpoint", "save setpoint", "save what is dialled under a name", "save profile", "save settings",
            "save preset"),
    _action("restore_setpoint", "restore setpoint", "dial a saved setpoint, or one from a file", "load profile",
            "load settings", "load preset", "import settings"),
    _action("carry_sheet", "rescale", "the whole sheet at another data rate, times kept", "carry", "scale timings",
            "convert timings"),
    _action("export_page", "export", "write what the page shows to a file", "save picture", "screenshot", "print",
            "save as"),
    _action("make_report", "report", "a page for the client, or all of it for the archive", "certificate", "paper",
            "summary", "invoice page"),
    _action("page find", "find the fault", "the question path to the faulty part", "diagnose", "diagnosis",
            "troubleshoot", "fault finding", "what is wrong"),
    _action("work_on_parts", "work on parts", "modules, cores, cooler, supply", "reseat", "swap module", "swap parts",
            "clean", "repaste"),
    _action("enter_past", "enter", "enter trials made elsewhere or before", "log result", "import results",
            "record result", "add result"),
    _action("correct_trial", "correct", "correct how a trial ended, or what it ran at", "edit result", "fix record"),
    _action("note_trial", "note", "put a note on a trial", "comment", "remark"),
    _action("search_book", "look in the book", "find trials by rig, knob, value, outcome, date", "history", "log",
            "search results", "past results"),
    _action("take_in", "take in", "fill the rig in from this machine", "detect", "detect hardware", "system info",
            "hardware info", "probe"),
    _action("edit_rig", "edit rig", "what is known of the rig, its purpose and ceilings", "system details", "specs",
            "limits", "customer"),
    _action("new_rig", "new rig", "add a rig to the book", "new system", "add machine", "new machine", "new customer"),
    _action("choose_rig", "rigs", "the list of rigs", "machines", "systems", "switch machine"),
    _action("show_stick", "stick", "a stick that boots a machine into the loads", "usb stick", "boot stick",
            "live usb", "bootable usb", "usb drive"),
    _action("edit_settings", "settings", "how it looks, what is usual, which keys", "preferences", "options",
            "configuration"),
    _action("help", "help", "what is in sight, and all keys", "manual", "shortcuts", "keys", "hotkeys"),
    _action("quit", "quit", "leave", "exit", "close"),
)  # fmt: skip
"""Actions of the workbench by their names."""

ACTS = (
    _act("move", "a module to another slot; two change places", "swap", "swap modules", "change slot", "exchange"),
    _act("pull", "take a module out, and lay it aside", "remove", "take out", "remove module", "pull out"),
    _act("fit", "one that was laid aside, by its serial", "insert", "install", "put in", "add module"),
    _act("alone", "leave only the module in this slot", "only", "single module", "one module"),
    _act("reseat", "take a module out and seat it anew", "re-seat", "seat again", "push in"),
    _act("replace", "put in a new module of the same kind", "new module", "rma", "exchange module"),
    _act("spare", "put in one of the shelf that is known to be good", "known good", "loaner"),
    _act("off", "switch a core off in the firmware", "disable", "disable core"),
    _act("on", "switch it on again", "enable", "enable core"),
    _act("clean", "take the cooler off, clean it, new paste", "repaste", "thermal paste", "dust", "clean cooler"),
    _act("fan", "a fan on the modules and the board, or off", "cooling fan", "airflow"),
    _act("supply", "put another power supply in", "psu", "power supply", "swap psu"),
    _act("contacts", "clean a module's contacts and seat it anew", "clean contacts", "clean module", "eraser"),
    _act("slot", "clean a slot out and seat its module anew", "clean slot", "blow out slot"),
    _act("processor", "take the processor out, look at its contacts, seat it anew", "cpu", "reseat cpu",
         "remount cpu", "socket"),
    _act("cables", "pull power and data cables off and plug them in again", "reseat cables", "check cables", "plugs"),
    _act("card", "take the graphics card out and seat it anew", "graphics card", "gpu", "reseat gpu", "video card"),
    _act("clear", "clear the firmware's settings: all stands at stock then", "clear cmos", "reset firmware",
         "reset bios", "clear settings", "load defaults"),
    _act("firmware", "put another firmware on, by its version", "update firmware", "bios update", "flash",
         "update bios"),
)  # fmt: skip
"""Work on parts by its words."""
