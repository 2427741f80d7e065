"""A Redfish service of our own in front of a machine, on loopback: sessions, registry, settings to come, resets."""
