"""Settings of one person's machine: bound to it alone, data in var/, no accounts."""

import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("TIGHT_SEAM_DATA", ROOT / "var"))
WEB = ROOT / "web" / "dist"


def _secret() -> str:
    """A secret of this machine's own, made at the first start."""
    path = DATA / "secret"
    if not path.exists():
        DATA.mkdir(parents=True, exist_ok=True)
        path.write_text(secrets.token_urlsafe(48))
        path.chmod(0o600)
    return path.read_text()


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
INSTALLED_APPS = ["characters", "bench", "jobs", "django_tasks", "django_tasks_db"]
WORK = "bench.work"  # what jobs do, by their kind
CLUSTER = os.environ.get("TIGHT_SEAM_CLUSTER") or None  # the address of a dask scheduler that sweeps are measured on
PROCESSES = max(1, int(os.environ.get("TIGHT_SEAM_PROCESSES") or (os.cpu_count() or 1) - 1))  # that a sweep without a cluster takes
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend", "QUEUES": ["default", "sweeps"]}}
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "config.same_origin.SameOriginMiddleware",
    "config.body_limit.BodyLimitMiddleware",
    "django.middleware.common.CommonMiddleware",
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "tight-seam.sqlite3",
        "CONN_MAX_AGE": None,  # each thread keeps its own: to open one anew takes longer than most of what is asked of it
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
STATIC_URL = "static/"
WHITENOISE_ROOT = WEB if WEB.is_dir() else None
WHITENOISE_INDEX_FILE = True
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/"  # their names change with what is in them
DATA_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024 * 1024  # of a request that is no file
FILE_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024 * 1024  # of a file, before it goes to disk
MOST_BODY_BYTES = 150 * 1024 * 1024  # of any request; refused before it is read
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "no-referrer"
X_FRAME_OPTIONS = "DENY"
SILENCED_SYSTEM_CHECKS = [
    "security.W003",  # nothing is signed in with cookies, and same_origin refuses what another site sends
    "security.W004",  # it speaks to this machine alone, without TLS
    "security.W008",
]
LOG = DATA / "log" / "tight-seam.log"
LOG.parent.mkdir(parents=True, exist_ok=True)
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"plain": {"format": "{asctime} {levelname} {name}: {message}", "style": "{"}},
    "handlers": {
        "file": {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": LOG,
            "maxBytes": 2 * 1024 * 1024,
            "backupCount": 4,
            "encoding": "utf-8",
            "delay": True,
            "formatter": "plain",
        },
        "terminal": {"class": "logging.StreamHandler", "level": "ERROR", "formatter": "plain"},
    },
    "root": {"handlers": ["file"], "level": "WARNING"},
    "loggers": {
        "tightseam": {"handlers": ["file", "terminal"], "level": "INFO", "propagate": False},
        "django": {"handlers": ["file"], "level": "WARNING", "propagate": False},  # Django's own handlers would write all of it twice
    },
}
