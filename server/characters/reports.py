"""Reports kept under the hash of all they depend on: whatever revision or character is alike finds them there."""

import hashlib
import json
from collections.abc import Callable, Iterable
from importlib.metadata import version

from characters.models import Report, Revision

VERSION = version("tight-seam")  # another version may measure otherwise


def report_key(kind: str, revision: Revision, sections: Iterable[str], *more: object) -> str:
    """SHA-256, as hex, of the kind of report, the sections it looks at and whatever else it depends on."""
    of = {name: revision.sections.get(name) for name in sections}
    return hashlib.sha256(json.dumps([VERSION, kind, of, *more], sort_keys=True).encode()).hexdigest()


def kept(keys: Iterable[str]) -> dict[str, dict]:
    """Those of the reports that are there, by their keys."""
    return {r.key: r.data for r in Report.objects.filter(key__in=set(keys))}


def kept_or_made(key: str, make: Callable[[], dict]) -> dict:
    """The report under this key, made and kept where there is none yet."""
    found = kept([key]).get(key)
    if found is None:
        found = make()
        Report.objects.get_or_create(key=key, defaults={"data": found})
    return found
