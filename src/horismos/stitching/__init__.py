"""Stacks of fabric: layers that are cut one on top of the other, and the stitches that sew them down.

Nothing here knows a file format: stitches are written by ``formats.embroidery``, cut files as those of any sheet.
"""
