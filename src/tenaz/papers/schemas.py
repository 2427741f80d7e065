"""The published JSON Schemas of the files that a technician writes."""

import json

from pydantic import BaseModel

from tenaz.catalogues.format import CatalogueFile
from tenaz.doors.mapping import DoorMapFile
from tenaz.papers.reports.language import Sentences
from tenaz.papers.setpoint_files import SetpointFile
from tenaz.probe.registers import RegisterFile
from tenaz.settings.model import Settings
from tenaz.simulated.made.populations import Population
from tenaz.simulated.made.scenarios import Scenario

SCHEMAS: dict[str, type[BaseModel]] = {
    "catalogue": CatalogueFile,
    "setpoint": SetpointFile,
    "scenario": Scenario,
    "population": Population,
    "settings": Settings,
    "registers": RegisterFile,
    "sentences": Sentences,
    "door-map": DoorMapFile,
}


def schema_text(name: str) -> str:
    """A schema as JSON text, as it stands in docs/schemas/."""
    schema = SCHEMAS[name].model_json_schema()
    return json.dumps({"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}, indent=2) + "\n"
