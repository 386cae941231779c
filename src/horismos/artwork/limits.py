"""What a file may ask of the reader. All [ours]; a file that wants more is refused."""

MAX_FILE_BYTES = 2_000_000_000
MAX_CONTENT_BYTES = 600_000_000
"""Decoded content of one page, its forms counted each time they are drawn."""
MAX_PROGRAM_BYTES = 64_000_000
"""A font, a colour profile, a table."""
MAX_FORM_DEPTH = 24
MAX_PATTERN_DEPTH = 6
"""Patterns and Type 3 glyphs that draw each other."""
MAX_STATE_DEPTH = 5_000
MAX_OBJECTS = 5_000_000
MAX_STREAM_RUNS = 200_000
MAX_PAGES = 2_000
MAX_NESTING = 60
"""Arrays and dictionaries inside each other, in content."""
MAX_PICTURE_PIXELS = 400_000_000
"""Of a picture."""
MAX_PICTURE_SIDE = 131_071
"""Of a picture, in pixels: PDFium draws none that is wider or higher (its ``kMaxImageDimension``)."""
MAX_UNPACKED_BYTES, MAX_UNPACKED_RATIO = 600_000_000, 60
"""A picture may unpack to so much, or to so many times the size of its file where that is more."""
MAX_LAYERS = 5_000
MAX_INKS = 250
"""Of a page, spot inks with those that take part in mixtures."""


def most_unpacked(stored: int) -> int:
    """To how many bytes a picture may unpack in a file of ``stored`` bytes."""
    return max(MAX_UNPACKED_BYTES, MAX_UNPACKED_RATIO * stored)
