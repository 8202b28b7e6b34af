"""How commands are added to the command line."""

from __future__ import annotations

import argparse
from collections.abc import Callable

Command = Callable[[str, Callable[[argparse.Namespace], int], str], argparse.ArgumentParser]
