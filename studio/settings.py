"""Settings of the studio. One folder holds all data: ANASTRATA_DATA moves it."""

from __future__ import annotations

import os
import sys
import tempfile
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF
from django.core.management.utils import get_random_secret_key

from studio.database import database
from studio.serving import serving

BASE_DIR = Path(__file__).resolve().parent.parent
TESTING = "test" in sys.argv
# many tests are one maker without a session; what a stranger may send has tests of its own
DATA_DIR = Path(os.environ.get("ANASTRATA_DATA", BASE_DIR / "data")).resolve()
DATA_DIR.mkdir(parents=True, exist_ok=True, mode=0o700)
# what is made here is nobody else's on this machine
os.umask(0o077)
WEB_DIST = BASE_DIR / "web" / "dist"

DEMO_MODE = os.environ.get("ANASTRATA_DEMO") == "1"
# signs in the demo maker without a password, from the loopback address only
DEBUG = os.environ.get("ANASTRATA_DEBUG") == "1"
SERVING = serving(os.environ)
globals().update(SERVING.settings())
if TESTING:
    ALLOWED_HOSTS = [*SERVING.hosts, "testserver"]


def _secret() -> str:
    """A key made once for this data folder; never in the repository."""
    kept = DATA_DIR / "secret.key"
    if not kept.exists():
        kept.write_text(get_random_secret_key())
        kept.chmod(0o600)
    return kept.read_text().strip()


SECRET_KEY = _secret()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "drf_spectacular",
    "axes",
    "csp",
    "studio.accounts",
    "studio.history",
    "studio.jobs",
    "studio.inks",
    "studio.sets",
    "studio.builds",
    "studio.bench",
    "studio.carry",
    "studio.keep",
]
MIDDLEWARE = [
    "studio.numbered.Numbered",
    "studio.gate.Bodiless",
    "studio.gate.Compressed",
    "studio.gate.OneShape",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "studio.gate.RoomOnDisk",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "studio.accounts.demo.DemoSignIn",
    "studio.bounds.Bounded",
    "axes.middleware.AxesMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "studio.urls"
WSGI_APPLICATION = "studio.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [WEB_DIST]}]

DATABASES = {"default": database(os.environ, DATA_DIR)}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
CSRF_FAILURE_VIEW = "studio.gate.refused_as_forged"
PASSWORD_HASHERS = [
    "studio.accounts.passwords.Argon2Modest",
    "django.contrib.auth.hashers.Argon2PasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
# wrong passwords for one name from one address; kept in the database, so that a restart forgets none
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_DISABLE_ACCESS_LOG = True
AXES_CLIENT_IP_CALLABLE = "studio.asked.address_of"
AXES_VERBOSE = False
AXES_LOCKOUT_CALLABLE = "studio.accounts.signing_in.locked_out"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        # styles are made where a part is shown; they cannot run anything
        "style-src": [SELF, "'unsafe-inline'"],
        "img-src": [SELF, "data:", "blob:"],
        "worker-src": [SELF],
        "object-src": [NONE],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
CACHES = {
    "default": {
        # what is counted against somebody is not forgotten by a restart
        "BACKEND": "django.core.cache.backends.filebased.FileBasedCache",
        "LOCATION": tempfile.mkdtemp(prefix="cache-") if TESTING else DATA_DIR / "cache",
        "OPTIONS": {"MAX_ENTRIES": 5000},
    }
}
STRANGERS = 410_000_000 if TESTING else 64_000
# bytes that somebody may send who is not signed in: a name and a password are far smaller
WHOLE = int(os.environ.get("ANASTRATA_WHOLE_MB", "0")) * 1_000_000
# bytes of all that this house keeps; nought: as much as the disk holds
QUOTA = int(os.environ.get("ANASTRATA_QUOTA_MB", "2000")) * 1_000_000
# bytes of pictures and files that one maker may keep
SESSION_COOKIE_AGE = 60 * 60 * 24 * 90
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "/static/"
STATIC_ROOT = DATA_DIR / "static"
STATIC_ROOT.mkdir(exist_ok=True)
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
WHITENOISE_USE_FINDERS = DEBUG or "test" in sys.argv
# where the page is taken from: it names scripts, so it is of the same build as those that are served, also while a newer
# one is built beside a server that goes on
PAGES = WEB_DIST if WHITENOISE_USE_FINDERS else STATIC_ROOT
WHITENOISE_IMMUTABLE_FILE_TEST = r"^.+[.-][0-9a-zA-Z_-]{8,12}\..+$"
# Vite already hashes names, so the compressed storage must not hash them again
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
# files of sets on their way in; tests must never touch a maker's
IMPORTS_DIR = Path(tempfile.mkdtemp(prefix="imports-")) if TESTING else DATA_DIR / "imports"
# what the stand-in reader of each maker remembers
RUNS_DIR = Path(tempfile.mkdtemp(prefix="runs-")) if TESTING else DATA_DIR / "runs"
# a file for each process that serves
READER_DIR = Path(tempfile.mkdtemp(prefix="reader-")) if TESTING else DATA_DIR / "reader"
# long work runs on threads of its own (studio.jobs); most tests of the API wait for it
JOBS_AT_ONCE = False
DATA_UPLOAD_MAX_MEMORY_SIZE = 9_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 9_000_000

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["studio.accounts.sessions.SignedIn"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["studio.rendering.QuickJSON"],
    "DEFAULT_PARSER_CLASSES": [
        "studio.gate.KeepableJSON",
        "rest_framework.parsers.MultiPartParser",
    ],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "studio.errors.handle",
    "DEFAULT_THROTTLE_RATES": {
        "accounts": "9000/hour" if TESTING else "20/hour",
        "signing-in": "9000/hour" if TESTING else "120/hour",
    },
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Anastrata",
    "VERSION": "0.36.0",
    "DESCRIPTION": "Colouring layered images for cards: predict, choose, order, lead.",
    "COMPONENT_SPLIT_REQUEST": True,
    "SERVE_INCLUDE_SCHEMA": False,
    "PATH_CONVERTER_OVERRIDES": {"row": {"type": "integer"}},
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "studio.schema.document_refusals",
    ],
    "ENUM_NAME_OVERRIDES": {
        "SetKindEnum": ["stencil", "stamp set", "die-cut"],
        "SetEditKindEnum": "studio.sets.serializers.EDIT_KINDS",
        "EditKindEnum": "studio.builds.serializers.EDIT_KINDS",
        "StepKindEnum": "strata.order.steps.KINDS",
        "SubjectKindEnum": "strata.advice.base.SUBJECTS",
        "MoodEnum": "strata.proposals.wishes.MOOD_KEYS",
        "JobStateEnum": "studio.jobs.models.Job.STATES",
        "ImportStateEnum": "studio.sets.models.Import.STATES",
    },
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"number": {"()": "studio.numbered.WithNumber"}},
    "formatters": {
        "line": {"format": "{asctime} {levelname} [{number}] {name}: {message}", "style": "{"},
    },
    "handlers": {
        "stderr": {"class": "logging.StreamHandler", "formatter": "line", "filters": ["number"]},
    },
    "loggers": {
        name: {"handlers": ["stderr"], "level": os.environ.get("ANASTRATA_LOG", "WARNING")}
        for name in ("django", "studio", "strata", "axes")
    },
}
