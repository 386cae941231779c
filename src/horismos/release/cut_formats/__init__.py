"""What cut lines are written in: a file a format, found by being here. Each writes, and reads back by other means."""

from horismos.release.cut_formats.register import CutFormat, Cutting, cut_names, format_of, register, registered

__all__ = ["CutFormat", "Cutting", "cut_names", "format_of", "register", "registered"]
