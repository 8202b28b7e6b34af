"""The USD library, an extra of the package."""

from __future__ import annotations

from importlib import import_module

from tightseam.document.errors import BadRequest

MODULES = ("Gf", "Sdf", "Usd", "UsdGeom", "UsdSkel", "Vt")


def load_usd() -> None:
    """Import all of it that is used here; BadRequest where it is not installed.

    A program with threads calls this before it starts them. The library loads its modules under a lock of its own and holds the
    interpreter meanwhile: a thread that imports something else just then never gets on, and the whole process stands still.
    """
    try:
        for name in MODULES:
            import_module(f"pxr.{name}")
    except ImportError:
        raise BadRequest("Files of USD need the package usd-core, which is not installed: pip install 'tight-seam[usd]'.") from None
