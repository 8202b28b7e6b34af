"""`tightseam`: the core from the command line, for pipelines and for tests without a browser.

Results go to standard output (JSON with --json), messages to standard error.
Exit status: 0 fine, 1 where something is not as it should be (measure, checkin, eyes, landmarks, bones, sweep, offences), 2 bad input,
3 where not all could be measured (sweep).
"""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Sequence

from tightseam.cli import characters, checkin, handoff, jaw, landmarks, lids, mix, shapes, tryout
from tightseam.document.errors import TightSeamError


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        status = int(options.run(options))
        sys.stdout.flush()
        return status
    except TightSeamError as error:
        print(f"tightseam: {error}", file=sys.stderr)
    except BrokenPipeError:  # whoever reads has read enough, as `head` does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except OSError as error:
        print(f"tightseam: {error.filename or 'file'}: {error.strerror}", file=sys.stderr)
    return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="tightseam", description="Measure, edit and convert facial rigs.")
    commands = parser.add_subparsers(dest="command", required=True)

    def command(name: str, run: Callable[[argparse.Namespace], int], help: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=help)
        sub.set_defaults(run=run)
        return sub

    for station in (characters, checkin, landmarks, lids, jaw, shapes, mix, tryout, handoff):
        station.add_commands(command)
    return parser
