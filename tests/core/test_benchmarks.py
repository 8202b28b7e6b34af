"""Benchmarks are not run by tests, but they must be ones that can be run."""

from __future__ import annotations

import importlib
import pkgutil

import pytest

import benchmarks


@pytest.mark.parametrize("name", [m.name for m in pkgutil.iter_modules(benchmarks.__path__) if m.name != "__main__"])
def test_a_benchmark_finds_what_it_speaks_of(name):
    assert importlib.import_module(f"benchmarks.{name}").__doc__
