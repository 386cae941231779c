"""The steps of a job as a server asks for them: stored content and values in, plain values and bytes out.

Each is carried out by a limited child (``horismos.sandbox``), so that no file is read, unpacked or drawn in a
process that holds anything else. What they give can be kept as it is. ``calls`` writes what a step is asked as plain
values, for a machine elsewhere.
"""

__all__ = ["BESIDE", "STEPS"]

_ROOMS = ("job", "pictures", "documents", "making", "together", "bench", "stack", "pile", "nest")
STEPS = tuple(f"{__name__}.{room}" for room in _ROOMS)
BESIDE = (
    "horismos.artwork.programs", "horismos.intake.svg", "horismos.intake.drawings", "horismos.intake.picture_pdf",
    "horismos.intake.postscript", "resvg_py", "scipy.ndimage", "scipy.sparse.csgraph", "scipy.spatial.distance",
)
"""What only some files need, and a process of its own would import where such a one comes."""
