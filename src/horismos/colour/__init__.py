"""Colour by ICC profiles, through LittleCMS."""

from horismos.colour.press import lab_of_cmyk, shift_of_rgb

__all__ = ["lab_of_cmyk", "shift_of_rgb"]
