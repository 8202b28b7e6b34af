"""From delivered files to a character on the shelf."""
