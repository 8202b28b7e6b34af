"""The processes beside the server: warm ones for what somebody waits for just now, and one for what lasts. Each is looked after by a
thread of the server, which starts it anew should it die."""

import atexit
import logging
import multiprocessing
import os
import queue
import threading
import time
from collections.abc import Callable
from datetime import timedelta
from multiprocessing.connection import Connection
from pathlib import Path

from django.db.models import F
from django.utils import timezone
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult
from problems import STOPPED, Problem

from jobs import children
from jobs.models import DEFAULT, QUEUES, SWEEPS, Job
from jobs.perform import came_to_nothing
from jobs.tasks import lasting

log = logging.getLogger("tightseam")
QUICK = 2  # processes for what somebody waits for; the second starts when the first has its hands full
REMEMBERED = timedelta(days=1)  # that a job which has ended can still be asked for
STARTING = 120.0  # s that a process may take to load all it needs
GRACE = 2.0  # s between being asked to stop and being made to
LOOK_EVERY = 0.1  # s between two looks at who should have stopped
MOST_ATTEMPTS = 3
DIED = Problem(message="The work broke off, perhaps for want of memory. Nothing was stored. Try again.")
TIRED = Problem(message=f"The work broke off {MOST_ATTEMPTS} times, perhaps for want of memory. Nothing was stored.")
RESTARTED = Problem(message="The server was started anew meanwhile. Ask again.")
HERE = str(Path(__file__).parents[1])  # where the packages of the server are found
FORKED = multiprocessing.get_context("forkserver")  # from one process that has loaded all they need, once for all of them


class Processes:
    """Runs jobs in processes of their own."""

    def __init__(self) -> None:
        self._ids: queue.Queue[str] = queue.Queue()
        self._growing = threading.Lock()
        self._ended: dict[str, threading.Event] = {}
        self._stops: dict[str, float] = {}
        self._quick = [_Quick(self._ids, self._stops, self._say_ended) for _ in range(QUICK)]
        lines = {DEFAULT: children.lasting, SWEEPS: children.sweeping}
        self._lasting = {queue: _Lasting(queue, does, self._stops, self._say_all_ended) for queue, does in lines.items()}

    def begin(self) -> None:
        """What was going on when the server went down: what lasts is begun again, the rest was lost."""
        recover()
        os.environ["PYTHONPATH"] = os.pathsep.join([HERE, *filter(None, [os.environ.get("PYTHONPATH")])])
        FORKED.set_forkserver_preload(["jobs.loaded"])
        self._lasting[DEFAULT].start()
        if Job.lasting_in(SWEEPS).filter(state=Job.State.WAITING).exists():
            self._lasting[SWEEPS].start()
        self._quick[0].start()

    def enqueue(self, job: Job) -> None:
        lasting.using(queue_name=job.queue).enqueue(str(job.pk))

    def start(self, job: Job) -> None:
        self._ended[str(job.pk)] = threading.Event()
        if job.lasting:
            with self._growing:
                line = self._lasting[job.queue]
                if not line.is_alive():
                    line.start()
            line.ring()
            return
        with self._growing:
            waited_for = not self._ids.empty() or all(q.busy for q in self._quick if q.is_alive())
            self._ids.put(str(job.pk))
            more = next((q for q in self._quick if not q.is_alive()), None)
            if waited_for and more is not None:
                more.start()

    def stop(self, job: Job) -> None:
        self._stops[str(job.pk)] = time.monotonic() + GRACE

    def wait(self, job: Job, patience: float) -> None:
        ended = self._ended.get(str(job.pk))
        if ended is not None:
            ended.wait(patience)

    def _say_ended(self, id: str) -> None:
        self._stops.pop(id, None)
        ended = self._ended.pop(id, None)
        if ended is not None:
            ended.set()

    def _say_all_ended(self) -> None:
        """Of those that lasted it is not told which has ended."""
        known = Job.objects.filter(pk__in=list(self._ended), lasting=True).exclude(state__in=Job.GOING)
        for id in known.values_list("pk", flat=True):
            self._say_ended(str(id))


class _Child(threading.Thread):
    """A process and the line to it."""

    def __init__(self, name: str, target: Callable[[Connection], None]) -> None:
        super().__init__(name=name, daemon=True)
        self._target = target

    def _spawn(self) -> tuple[multiprocessing.process.BaseProcess, Connection]:
        ours, theirs = FORKED.Pipe()
        process = FORKED.Process(target=self._target, args=(theirs,), name=self.name, daemon=False)  # it may have its own
        process.start()
        atexit.register(process.kill)  # or the server would wait for it to end by itself
        theirs.close()
        if not ours.poll(STARTING):
            process.kill()
            raise EOFError
        ours.recv()
        return process, ours

    def run(self) -> None:
        while True:
            try:
                self._live()
            except Exception:  # the database could not be written, say: the next life begins a little later
                log.exception("Looking after %s", self.name)
                time.sleep(1)

    def _live(self) -> None:
        """From the start of the process to its end."""
        process, line = self._spawn()
        try:
            self._attend(process, line)
        except (EOFError, BrokenPipeError, ConnectionResetError):
            log.error("A process of the server ended: %s", self.name)
        finally:
            process.kill()
            process.join()
            atexit.unregister(process.kill)
            self._died()

    def _attend(self, process: multiprocessing.process.BaseProcess, line: Connection) -> None:
        """Work with the process until the line breaks."""
        raise NotImplementedError

    def _died(self) -> None:
        """The process is gone, with what it was doing."""
        raise NotImplementedError


class _Quick(_Child):
    def __init__(self, ids: queue.Queue[str], stops: dict[str, float], ended: Callable[[str], None]) -> None:
        super().__init__("quick jobs", children.quick)
        self._ids, self._stops, self._ended = ids, stops, ended
        self._at: str | None = None

    @property
    def busy(self) -> bool:
        return self._at is not None

    def _attend(self, process: multiprocessing.process.BaseProcess, line: Connection) -> None:
        while True:
            next_one = self._ids.get()
            if not process.is_alive():  # it died with nothing in its hands
                self._ids.put(next_one)
                raise EOFError
            self._at = next_one
            line.send(next_one)
            while not line.poll(LOOK_EVERY):
                if time.monotonic() > self._stops.get(next_one, float("inf")):
                    came_to_nothing(next_one, Job.State.STOPPED, 409, STOPPED)
                    process.kill()
            line.recv()
            self._done()

    def _died(self) -> None:
        if self._at is not None:
            came_to_nothing(self._at, Job.State.FAILED, 500, DIED)
            self._done()

    def _done(self) -> None:
        assert self._at is not None
        at, self._at = self._at, None
        self._ended(at)


class _Lasting(_Child):
    def __init__(self, queue: str, does: Callable[[Connection], None], stops: dict[str, float], ended: Callable[[], None]) -> None:
        super().__init__(f"lasting jobs, {queue}", does)
        self._queue, self._stops, self._ended = queue, stops, ended
        self._rung = threading.Event()

    def ring(self) -> None:
        self._rung.set()

    def _attend(self, process: multiprocessing.process.BaseProcess, line: Connection) -> None:
        self._rung.set()
        while True:
            if self._rung.wait(LOOK_EVERY):
                self._rung.clear()
                line.send("ring")
            if line.poll(0):
                line.recv()
                self._ended()
            late = [id for id, until in list(self._stops.items()) if time.monotonic() > until]
            stuck = Job.lasting_in(self._queue).filter(pk__in=late, state=Job.State.RUNNING) if late else ()
            for job in stuck:
                came_to_nothing(str(job.pk), Job.State.STOPPED, 409, STOPPED)
                process.kill()

    def _died(self) -> None:
        begin_again(self._queue)
        self._ended()


def recover() -> None:
    """What the last server left: jobs that somebody waited for are said to be lost, lasting ones stand in the queue again, and what ended
    long ago is forgotten."""
    Job.objects.filter(lasting=False, state__in=Job.GOING).update(state=Job.State.FAILED, status=503, problem=RESTARTED.model_dump())
    Job.objects.exclude(state__in=Job.GOING).filter(asked__lt=timezone.now() - REMEMBERED).delete()
    DBTaskResult.objects.finished().delete()
    for name in QUEUES:
        begin_again(name)


def begin_again(queue: str) -> None:
    """Put what was being done, and lasts, back into its queue; nothing is tried for ever."""
    broken = Job.lasting_in(queue).filter(state=Job.State.RUNNING)
    broken.update(attempts=F("attempts") + 1)
    broken.filter(attempts__gte=MOST_ATTEMPTS).update(state=Job.State.FAILED, status=500, problem=TIRED.model_dump())
    broken.update(state=Job.State.WAITING)
    DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING, queue_name=queue).update(status=TaskResultStatus.READY)
