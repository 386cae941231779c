"""Marks seen against marks meant: where the print lies before the cutter, and how well that is known."""

from horismos.alignment.fit import Fit, aligned, fit

__all__ = ["Fit", "aligned", "fit"]
