"""The door ``redfish``: a controller's Bios resource, its settings to come, its resets (DMTF DSP0266, DSP0268)."""
