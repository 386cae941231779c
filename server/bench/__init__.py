"""The bench: what was handed over to the machines, and the machines' hot folders."""
