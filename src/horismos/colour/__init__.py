"""Colour by ICC profiles, through LittleCMS."""

from horismos.colour.lab import delta_e, lab_of_srgb
from horismos.colour.press import delta_e_of_cmyk, lab_of_cmyk, shift_of_rgb

__all__ = ["delta_e", "delta_e_of_cmyk", "lab_of_cmyk", "lab_of_srgb", "shift_of_rgb"]
