"""Horismos: checks, mends and lays out customers' artwork for print-and-cut.

This is the core: it reads files, measures them and writes files. It knows nothing of the web.
Lengths are millimetres at finished size, y upwards, with the origin at the lower left of the
trim box.
"""

__version__ = "0.1.0"
