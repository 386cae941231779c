"""What checks measure together: the printed edge, how cuts lie, where they land."""
