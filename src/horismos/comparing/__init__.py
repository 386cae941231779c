"""What two artworks differ in: by facet, in figures, and as a picture."""
