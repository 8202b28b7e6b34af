"""Reports kept under the hash of all they depend on: whatever revision or character is alike finds them there."""

import threading
from collections.abc import Iterable, Iterator
from contextlib import contextmanager

from characters.models import Report


class ReportKeeper:
    """Keeps results of the core in the database, each in a transaction of its own or, within `together`, all of them in one."""

    def __init__(self) -> None:
        self._waiting = threading.local()

    def load(self, key: str) -> bytes | None:
        waiting = getattr(self._waiting, "reports", None)
        if waiting and key in waiting:
            return waiting[key]
        found = Report.objects.filter(key=key).values_list("data", flat=True).first()
        return None if found is None else bytes(found)

    def save(self, key: str, data: bytes) -> None:
        waiting = getattr(self._waiting, "reports", None)
        if waiting is None:
            _store({key: data})
        else:
            waiting[key] = data

    @contextmanager
    def together(self) -> Iterator[None]:
        """Within, what this thread saves is written at the end, also where that is an error: what was measured stays true."""
        waiting: dict[str, bytes] = {}
        self._waiting.reports = waiting
        try:
            yield
        finally:
            self._waiting.reports = None
            _store(waiting)


def _store(reports: dict[str, bytes]) -> None:
    Report.objects.bulk_create([Report(key=k, data=d) for k, d in reports.items()], ignore_conflicts=True)


def kept(keys: Iterable[str]) -> dict[str, bytes]:
    """Those of the reports that are there, by their keys."""
    return {r.key: bytes(r.data) for r in Report.objects.filter(key__in=set(keys))}


def known(keys: Iterable[str]) -> set[str]:
    """Those of the keys under which there is a report."""
    return set(Report.objects.filter(key__in=set(keys)).values_list("key", flat=True))


KEEPER = ReportKeeper()
