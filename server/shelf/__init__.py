"""The shelf: materials, destinations, tools, check sheets."""
