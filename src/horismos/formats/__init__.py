"""Files of lines: HP-GL, DXF, SVG path data. Readers are lenient with customers' files, writers strict with ours."""
