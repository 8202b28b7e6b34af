"""What runs in the processes beside the server: each waits at its line for what to do next."""

import signal
from importlib import import_module
from multiprocessing.connection import Connection

from tightseam.mix.parent import end_with_parent

PATIENCE = 5.0  # s after which the queue is looked at even if nobody rang
READY = "ready"


def quick(line: Connection) -> None:
    """Do jobs by their ids as they come along the line, and say of each that it has ended."""
    _set_up()
    from jobs.perform import perform

    try:
        line.send(READY)
        while True:
            id = line.recv()
            perform(id)
            line.send(id)
    except (EOFError, BrokenPipeError):  # the server is gone
        return


def lasting(line: Connection, queue: str = "default") -> None:
    """Do what stands in a queue of the database whenever the line rings, and say so."""
    _set_up()
    from django_tasks_db.management.commands.db_worker import Worker

    try:
        line.send(READY)
        while True:
            Worker(
                queue_names=[queue],
                interval=0,
                batch=True,
                backend_name="default",
                startup_delay=False,
                max_tasks=None,
                worker_id=queue,
                excluded_queue_names=[],
            ).run()
            line.send(READY)
            if line.poll(PATIENCE):
                line.recv()
    except (EOFError, BrokenPipeError):
        return


def sweeping(line: Connection) -> None:
    """The same for sweeps."""
    lasting(line, "sweeps")


def _set_up() -> None:
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the server ends us
    end_with_parent()
    load()
    from characters.reports import KEEPER
    from tightseam.document.kept import keep_in

    keep_in(KEEPER)


def load() -> None:
    """Load everything that a job may need, so that none waits for it."""
    import django

    django.setup()
    from django.conf import settings

    import_module(settings.WORK)  # it says who does what
    from tightseam.deform.backend import load_compiled
    from tightseam.exchange.usd_library import load_usd

    load_usd()
    load_compiled()
