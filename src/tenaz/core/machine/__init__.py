"""A machine as it is found: slots and modules, physical memory, what it can be recognised by."""
