"""Checks of what is printed: texts, strokes, transparency, pictures, white."""
