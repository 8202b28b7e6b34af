"""Contact between surfaces: trees of triangles that live as long as their mesh, and how far samples are from a solid."""
