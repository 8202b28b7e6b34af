"""Which loops serve: plain ones at once, compiled ones once they are loaded."""

from __future__ import annotations

import subprocess
import sys
from inspect import signature

from tightseam.deform import backend, kernels, plain


def test_plain_loops_serve_until_the_compiled_ones_are_loaded(monkeypatch):
    monkeypatch.setattr(backend, "_loaded", [])
    assert backend.current() is plain
    assert not backend.compiled_ready()
    backend.load_compiled()
    assert backend.current() is kernels
    backend.load_compiled()
    assert backend.compiled_ready()


def test_posing_needs_no_compiler_to_start():
    """The server and the command line answer before numba is even imported."""
    code = "import sys; import tightseam.deform.evaluator, tightseam.cli; sys.exit('numba' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0


def test_both_sets_of_loops_offer_the_same_functions():
    for name in kernels.__all__:
        assert list(signature(getattr(plain, name)).parameters) == list(signature(getattr(kernels, name).py_func).parameters), name
