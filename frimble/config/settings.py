"""Settings. What differs between rooms comes from the environment; nothing secret stands here."""

import os
from pathlib import Path

import dj_database_url
from csp.constants import NONE, SELF
from django.core.management.utils import get_random_secret_key

from frimble.config.hosts import RoomHosts

BASE_DIR = Path(__file__).resolve().parents[2]
VAR_DIR = Path(os.environ.get("FRIMBLE_VAR", BASE_DIR / "var")).absolute()
# What the shop records is for the one who runs the server: files 0600, folders 0700.
os.umask(0o077)


def _secret_key() -> str:
    """The key made at first start, readable by this user only."""
    path = VAR_DIR / "secret_key"
    if not path.exists():
        VAR_DIR.mkdir(parents=True, exist_ok=True)
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(handle, "w") as file:
            file.write(get_random_secret_key())
    return path.read_text().strip()


def _database() -> dict:
    """SQLite in WAL mode unless DATABASE_URL names another database."""
    url = os.environ.get("DATABASE_URL", f"sqlite:///{VAR_DIR / 'frimble.sqlite3'}")
    database = dj_database_url.parse(url)
    if database["ENGINE"].endswith("sqlite3"):
        # FULL: a record that was acknowledged is on the disk.
        database["OPTIONS"] = {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
        }
        # A file, as in the room: in memory all threads would share one connection and each other's transactions.
        # Tests get today's tables at once: that migrations lead there is a test of its own.
        database["TEST"] = {"NAME": VAR_DIR / "test.sqlite3", "MIGRATE": False}
    return database


SECRET_KEY = os.environ.get("FRIMBLE_SECRET_KEY") or _secret_key()
DEBUG = os.environ.get("FRIMBLE_DEBUG") == "1"
ALLOWED_HOSTS = os.environ.get("FRIMBLE_HOSTS", "127.0.0.1,localhost").split(",")
# Taken in their place by a server that listens on the network.
ROOM_HOSTS = RoomHosts(ALLOWED_HOSTS, VAR_DIR)
# Behind a proxy on this machine that speaks https and says for whom in X-Forwarded headers.
PROXY = os.environ.get("FRIMBLE_PROXY") == "1"
HTTPS = PROXY or os.environ.get("FRIMBLE_HTTPS") == "1"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "csp",
    "simple_history",
    "django_tasks",
    "django_tasks_db",
    "django_cotton",
    "frimble.ui",
    "frimble.people",
    "frimble.handbook",
    "frimble.screens",
    "frimble.films",
    "frimble.coatings",
    "frimble.exposures",
    "frimble.stencils",
    "frimble.press",
    "frimble.jobs",
    "frimble.training",
    "frimble.exchange",
    "frimble.server",
    "frimble.demo",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "frimble.people.door.again.SignInAgain",
    "frimble.people.middleware.OwnRoom",
    "frimble.ui.input.CleanInput",
    "frimble.people.looking.OnlyLooking",
    "frimble.people.door.shared.SharedTablet",
    "frimble.screens.late.middleware.LateRecords",
    "frimble.people.write_log.WriteLog",
    "django.contrib.messages.middleware.MessageMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
]

ROOT_URLCONF = "frimble.config.urls"
WSGI_APPLICATION = "frimble.config.wsgi.application"
TEST_RUNNER = "frimble.config.runner.CountingRunner"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "frimble.jobs.frame.context.line",
            ],
            "builtins": ["frimble.ui.templatetags.addresses"],
        },
    },
]
FORM_RENDERER = "frimble.ui.formrenderer.PlainControls"

DATABASES = {"default": _database()}

AUTH_USER_MODEL = "people.Person"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"max_similarity": 0.6},
    },
]
LOGIN_URL = "people:sign-in"
LOGIN_REDIRECT_URL = "jobs:today"
LOGOUT_REDIRECT_URL = "people:sign-in"

LANGUAGE_CODE = "en-gb"
TIME_ZONE = os.environ.get("FRIMBLE_TIME_ZONE", "UTC")
USE_TZ = True

MEDIA_ROOT = VAR_DIR / "media"
FILE_UPLOAD_PERMISSIONS, FILE_UPLOAD_DIRECTORY_PERMISSIONS = 0o600, 0o700
# Scans of large films; each page that takes a file states its own limits.
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 2**20
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 2**20
# Work that outlasts a request goes to a worker of its own, which `serve` starts.
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

# A connected instrument takes a simulated one's place here: any class behind the same protocol.
_SIMULATED = "frimble.core.instruments.simulated.Simulated"
INSTRUMENTS = {
    "tension_gauge": os.environ.get("FRIMBLE_TENSION_GAUGE", f"{_SIMULATED}TensionGauge"),
    "thickness_gauge": os.environ.get("FRIMBLE_THICKNESS_GAUGE", f"{_SIMULATED}ThicknessGauge"),
    "densitometer": os.environ.get("FRIMBLE_DENSITOMETER", f"{_SIMULATED}Densitometer"),
    "hygrometer": os.environ.get("FRIMBLE_HYGROMETER", f"{_SIMULATED}Hygrometer"),
    "light_meter": os.environ.get("FRIMBLE_LIGHT_METER", f"{_SIMULATED}LightMeter"),
}

STATIC_URL = "static/"
# Serve straight from the packages: one command less between a fresh machine and a working room.
WHITENOISE_USE_FINDERS = True

SESSION_ENGINE = "frimble.people.door.sessions"
# The practice room answers at the same host: its sign-in is not the shop's.
PRACTICE = os.environ.get("FRIMBLE_PRACTICE") == "1"
if PRACTICE:
    SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = "practice-session", "practice-csrf"
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Strict"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_HSTS_SECONDS = 31536000 if HTTPS else 0
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CSRF_FAILURE_VIEW = "frimble.ui.views.grown_old"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "worker-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

# The server and its worker each write a file of their own: two processes must not turn over one file.
LOG_DIR = VAR_DIR / "log"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "{asctime} {levelname} {name} {message}", "style": "{"}},
    "handlers": {
        "console": {"class": "logging.StreamHandler", "formatter": "line"},
        "file": {
            "()": "frimble.config.logfile.rotating",
            "path": LOG_DIR / f"{os.environ.get('FRIMBLE_LOG', 'frimble')}.log",
            "formatter": "line",
        },
    },
    "loggers": {
        "frimble": {"level": "INFO"},
        "django.request": {"level": "ERROR"},
    },
    "root": {"handlers": ["console", "file"], "level": "WARNING"},
}
