"""Settings of the local server. It binds to this machine only; its data lies in the user-data folder."""

import os
import secrets
from pathlib import Path

from platformdirs import user_data_dir
from vault.folder import NAME, Unusable, prepared, stop

ROOT = Path(__file__).resolve().parent.parent.parent
DATA = Path(os.environ.get("EMVAR_DATA") or user_data_dir("emvar", appauthor=False))
os.umask(0o077)  # what is written here is its owner's alone
try:
    prepared(DATA)
except Unusable as error:
    stop(error)
WEB_DIST = ROOT / "web" / "dist"


def _secret() -> str:
    """A key of this installation's own, made once."""
    path = DATA / "secret.key"
    try:
        if not path.exists() or not path.stat().st_size:
            path.touch(mode=0o600)
            path.write_text(secrets.token_urlsafe(48), encoding="ascii")
        return path.read_text(encoding="ascii")
    except OSError:
        return secrets.token_urlsafe(48)  # told by whoever needs to write; until then for this run only


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost"]
INSTALLED_APPS = ["django.contrib.staticfiles", "ninja", "builds", "sittings", "journal", "vault"]
MIDDLEWARE = [
    "emvar_server.security.ContentSecurityPolicy",
    "emvar_server.security.OwnHost",
    "emvar_server.lan.Paired",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "emvar_server.packed.Packed",
    "django.middleware.common.CommonMiddleware",
    "emvar_server.security.CsrfForAll",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "emvar_server.urls"
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / NAME,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        # A file, since an in-memory database does not exercise WAL.
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
STATIC_URL = "static/"
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.exists() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_MAX_AGE = 0
USE_TZ = True
TIME_ZONE = "UTC"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CSRF_COOKIE_SAMESITE = "Strict"
CSRF_FAILURE_VIEW = "emvar_server.security.csrf_failure"
DATA_UPLOAD_MAX_MEMORY_SIZE = 20_000_000
TEST_RUNNER = "tests.django_runner.Runner"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False}},
}
