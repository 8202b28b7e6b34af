"""A receiver of a package, for want of a real one: reads a GLB and its drive table and poses them, under the limits of a profile.

It shares no code with what writes them, on purpose: what both agree on is in the files."""
