"""Shapes that correct a mix of expressions: what drives them, and how they are solved."""
