"""HP-GL and the plotting part of HP-GL/2 [standard, from memory].

``tokens`` tells instructions apart, ``interpret`` carries them out, ``plotter`` keeps what the pen draws; arcs and
curves stay curves. The cutter's own files are read strictly, customers' files as plotters would: what cannot
be followed is left out and said.
"""

from horismos.formats.hpgl.plotter import PlotterStroke
from horismos.formats.hpgl.read import Plot, read_hpgl, read_plot
from horismos.formats.hpgl.tokens import looks_like_hpgl
from horismos.formats.hpgl.write import StrokeSegment, ToolRun, write_hpgl

__all__ = [
    "Plot", "PlotterStroke", "StrokeSegment", "ToolRun", "looks_like_hpgl", "read_hpgl", "read_plot", "write_hpgl"
]
