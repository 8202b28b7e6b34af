"""The brush: how it reaches over a posed surface, what it makes of values there, and what it paints on."""
