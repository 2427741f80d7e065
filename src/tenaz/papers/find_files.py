"""What the question path thinks, as JSON values for other programs."""

from typing import Any

from tenaz.core.parts.fitting import name_of
from tenaz.finding.reasons import sighting_in_words
from tenaz.pictures.find.model import FindPicture


def find_as_data(picture: FindPicture) -> dict[str, Any]:
    """All of it."""
    fitting = picture.fitting
    return {
        "rig": picture.rig.name,
        "complaint": picture.rig.complaint,
        "symptoms": [one.value for one in picture.symptoms],
        "verdict": {
            "enough": picture.verdict.enough.value,
            "part": picture.verdict.suspect.part.value,
            "which": picture.verdict.suspect.place,
            "sure": round(picture.verdict.sure, 5),
            "words": picture.verdict.words,
        },
        "suspects": [
            {
                "part": one.suspect.part.value,
                "which": one.suspect.place,
                "sure": round(one.sure, 5),
                "reasons": [{"text": reason.text, "folds": round(reason.folds, 3)} for reason in one.reasons],
            }
            for one in picture.suspects
        ],
        "next": [
            {
                "work": act.work,
                "clock_cut": list(act.eased),
                "load": act.load.kind.value,
                "load_min": act.load_min,
                "minutes": round(act.minutes, 1),
                "bits": round(act.bits, 4),
            }
            for act in picture.acts
        ],
        "slots": [
            {"slot": one.slot, "module": name_of(one) if one.fitted else None, "size_bytes": one.size_bytes}
            for one in fitting.modules
        ],
        "aside": [name_of(one) for one in fitting.aside],
        "cores_off": list(fitting.cores_off),
        "labels": [{"part": one.name, "state": one.state.value, "text": one.text} for one in picture.labels],
        "heat": list(picture.heat),
        "capacity": picture.capacity,
        "address_map": picture.address_map,
        "shown_h": {load: round(hours, 3) for load, hours in picture.shown_h},
        "stays_away": picture.stays_away,
        "could_hide": [{"what": what, "chance": round(chance, 5)} for what, chance in picture.hides],
        "around": list(picture.around),
        "minutes": round(picture.minutes, 1),
        "trials": [sighting_in_words(one) for one in picture.sightings],
        "trials_passed_over": picture.passed_over,
        "work": [
            {"after_trial": one.after_number, "told": one.told, "minutes": one.minutes} for one in picture.works[1:]
        ],
    }
