"""Orders: what a technician can want done, as frozen values. One door carries them out: :meth:`Workshop.do`."""

from tenaz.workshop.orders.looking import (
    BringField,
    BringFinding,
    BringFollowUps,
    BringFound,
    BringLine,
    BringLoad,
    BringMemory,
    BringNight,
    BringRigs,
    BringSearch,
    BringTrial,
    ChangeSetting,
)
from tenaz.workshop.orders.measuring import BringScores, KeepOwn, MakeReport, Measure, MeasureInTurn
from tenaz.workshop.orders.planning import AddPlanned, MovePlanned, SkipPlanned
from tenaz.workshop.orders.recording import (
    Correct,
    DropRoutine,
    EnterPast,
    Explain,
    NoteTrial,
    NoteValues,
    Paper,
    SaveRoutine,
    SaveSetpoint,
    SettleNote,
    Undo,
    WritePaper,
)
from tenaz.workshop.orders.rigs import (
    ChooseBench,
    ChooseRig,
    CorrectGrid,
    FollowFound,
    KeepGoldens,
    KeepRig,
    Know,
    LabelPart,
    NewSimulated,
    Reveal,
    SetFaults,
    TakeIn,
    TickSymptom,
    WorkOnParts,
)
from tenaz.workshop.orders.running import (
    ALL_STEPS,
    BeginSearch,
    ClimbLadder,
    EndSearch,
    FollowStanding,
    GiveAnswer,
    GoOn,
    LeaveMachine,
    RunPlan,
    SetPace,
    StandBy,
    StartRoutine,
    StartTrial,
    Steps,
    Stop,
    TakeUp,
)

__all__ = [
    "ALL_STEPS",
    "BRINGS",
    "STARTS",
    "AddPlanned",
    "BeginSearch",
    "Bring",
    "BringField",
    "BringFinding",
    "BringFollowUps",
    "BringFound",
    "BringLine",
    "BringLoad",
    "BringMemory",
    "BringNight",
    "BringRigs",
    "BringScores",
    "BringSearch",
    "BringTrial",
    "ChangeSetting",
    "ChooseBench",
    "ChooseRig",
    "ClimbLadder",
    "Correct",
    "CorrectGrid",
    "DropRoutine",
    "EndSearch",
    "EnterPast",
    "Explain",
    "FollowFound",
    "FollowStanding",
    "GiveAnswer",
    "GoOn",
    "KeepGoldens",
    "KeepOwn",
    "KeepRig",
    "Know",
    "LabelPart",
    "LeaveMachine",
    "MakeReport",
    "Measure",
    "MeasureInTurn",
    "MovePlanned",
    "NewSimulated",
    "NoteTrial",
    "NoteValues",
    "Order",
    "Paper",
    "Reveal",
    "RunPlan",
    "SaveRoutine",
    "SaveSetpoint",
    "SetFaults",
    "SetPace",
    "SettleNote",
    "SkipPlanned",
    "StandBy",
    "StartRoutine",
    "StartTrial",
    "Steps",
    "Stop",
    "TakeIn",
    "TakeUp",
    "TickSymptom",
    "Undo",
    "WorkOnParts",
    "WritePaper",
]

Order = (
    StartTrial | StartRoutine | BeginSearch | GoOn | EndSearch | TakeUp | GiveAnswer | Stop | SetPace
    | WorkOnParts | LabelPart | TickSymptom | FollowFound | BringFinding | SetFaults | NewSimulated | Reveal
    | ChooseRig | ChooseBench | TakeIn | KeepRig | Know | CorrectGrid | KeepGoldens
    | RunPlan | Correct | EnterPast | SaveRoutine | DropRoutine | AddPlanned | MovePlanned | SkipPlanned
    | BringRigs | BringFound | BringTrial | BringMemory | ChangeSetting
    | Explain | Undo | NoteTrial | NoteValues | SettleNote | SaveSetpoint | WritePaper | BringLoad | BringLine
    | Measure | MeasureInTurn | KeepOwn | BringScores | MakeReport | BringFollowUps | BringField
    | BringNight
    | BringSearch | StandBy | FollowStanding | LeaveMachine | ClimbLadder
)  # fmt: skip

STARTS = (
    StartTrial, StartRoutine, BeginSearch, GoOn, TakeUp, RunPlan, FollowFound, FollowStanding, ClimbLadder, Measure,
    MeasureInTurn,
)  # fmt: skip
"""Orders after which something runs."""

BRINGS = (
    BringLoad, BringLine, BringSearch, BringRigs, BringFound, BringTrial, BringFinding, BringMemory, BringScores,
    MakeReport, BringFollowUps, BringField, BringNight, ChangeSetting,
)  # fmt: skip
"""Orders whose answer is waited for; but for a report, which is kept, they change nothing in the book."""

Bring = (
    BringLoad | BringLine | BringSearch | BringRigs | BringFound | BringTrial | BringFinding | BringMemory
    | BringScores | MakeReport | BringFollowUps | BringField | BringNight | ChangeSetting
)  # fmt: skip
