"""Settings. Everything that differs between places comes from the environment.

GOUGE_DATA      folder for the database, photos and the secret key
                (default: var in a checkout, else gouge in XDG_DATA_HOME or ~/.local/share)
GOUGE_HOSTS     host names served, separated by commas
GOUGE_HTTPS     1 where a proxy in front speaks https
GOUGE_PROXIES   addresses of such a proxy, separated by commas; its word on the client's address is trusted
GOUGE_ADDRESS   connections that one address may have at once (default: 100)
GOUGE_SECONDS   how long a command may take before it is stopped (default: 30)
GOUGE_LONG_WORKERS processes for long work beside each web worker (default: 1)
GOUGE_MEMORY    megabytes of address space for long work (default: 6000)
GOUGE_BUDGET    megabytes for all large pictures in progress together (default: 1000)
GOUGE_AT_ONCE   megapixels up to which an export is made at once, without the queue (default: 60)
GOUGE_WORKERS_QUEUED  processes that do queued work, beside the web server (default: 2; 0 if others do it)
GOUGE_NICE      how much queued work yields to pages (nice(2); default: 5)
GOUGE_THIN      days after which only the last step of each session is kept (default: 0, all are kept for good)
GOUGE_REDIS_URL where the queue is, for workers on many machines (default: a file in GOUGE_DATA)
GOUGE_S3_BUCKET keeps photos and exports in an S3 bucket, at GOUGE_S3_ENDPOINT where that is not Amazon's
GOUGE_SMTP      host:port of a mail server (default: mail is written to files in GOUGE_DATA/post-box)
GOUGE_SMTP_USER, GOUGE_SMTP_PASSWORD   how to sign in there; TLS is used then
GOUGE_MAIL_FROM the sender of mail (default: gouge@localhost)
GOUGE_DEBUG     1 for Django's debug pages
GOUGE_DEMO      1 opens the demo account; `make demo` sets it
"""

import os
import secrets
from datetime import timedelta
from importlib.util import find_spec
from pathlib import Path

from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

BASE_DIR = Path(__file__).resolve().parent.parent
if "GOUGE_DATA" in os.environ:
    DATA_DIR = Path(os.environ["GOUGE_DATA"]).absolute()
elif (BASE_DIR / "manage.py").exists():
    DATA_DIR = BASE_DIR / "var"
else:
    DATA_DIR = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "gouge"
if "GOUGE_DATA" not in os.environ and os.environ.get("GOUGE_DEMO") == "1":
    DATA_DIR = DATA_DIR / "demo"
DATA_DIR.mkdir(mode=0o700, parents=True, exist_ok=True)


def _private(name: str) -> Path:
    """Return a file of the data folder, created if needed, that only its owner can read."""
    file = DATA_DIR / name
    try:
        os.close(os.open(file, os.O_CREAT | os.O_EXCL, 0o600))
    except FileExistsError:
        if file.stat().st_mode & 0o077:
            file.chmod(0o600)
    except OSError:
        # what writes to a folder reports that it can't
        pass
    return file


def _secret_key() -> str:
    file = _private("secret-key")
    if not file.stat().st_size:
        file.write_text(secrets.token_urlsafe(50))
    return file.read_text()


SECRET_KEY = os.environ.get("GOUGE_SECRET_KEY") or _secret_key()
DEBUG = os.environ.get("GOUGE_DEBUG") == "1"
GOUGE_DEMO = os.environ.get("GOUGE_DEMO") == "1"
ALLOWED_HOSTS = os.environ.get("GOUGE_HOSTS", "127.0.0.1,localhost").split(",")
GOUGE_SECONDS = float(os.environ.get("GOUGE_SECONDS", "30"))
GOUGE_LONG_WORKERS = int(os.environ.get("GOUGE_LONG_WORKERS", "1"))
GOUGE_MEMORY = int(os.environ.get("GOUGE_MEMORY", "6000"))
GOUGE_BUDGET = int(os.environ.get("GOUGE_BUDGET", "1000"))
GOUGE_AT_ONCE = float(os.environ.get("GOUGE_AT_ONCE", "60"))
GOUGE_WORKERS_QUEUED = int(os.environ.get("GOUGE_WORKERS_QUEUED", "2"))
GOUGE_NICE = int(os.environ.get("GOUGE_NICE", "5"))
GOUGE_THIN = int(os.environ.get("GOUGE_THIN", "0"))
GOUGE_QUEUE = os.environ.get("GOUGE_REDIS_URL") or str(DATA_DIR / "queue.sqlite3")
HTTPS = os.environ.get("GOUGE_HTTPS") == "1"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "studio",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "studio.operations.middleware.Compressed",
    "csp.middleware.CSPMiddleware",
    "studio.operations.middleware.cache_control",
    "studio.operations.middleware.files_by_front",
    "studio.operations.middleware.busy",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "studio.operations.upload_limits.Bodies",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        # a panel's template is beside its module
        "DIRS": [BASE_DIR / "studio" / "editor"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": _private("gouge.sqlite3"),
        "CONN_MAX_AGE": None,
        # in a file, so that tests run in WAL mode too
        "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            # after that the answer is 503, and the page retries (studio/operations/middleware.py)
            "timeout": 4,
            # a killed process loses nothing that was committed, nor does a power cut
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
    }
}
# counters shared by all processes, such as mails per hour
CACHES = {"default": {"BACKEND": "django.core.cache.backends.filebased.FileBasedCache", "LOCATION": DATA_DIR / "cache"}}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
PASSWORD_HASHERS = ["studio.accounts.hashing.Gentle"]
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
# wrong passwords, separately for an account and for an address
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = ["username", "ip_address"]
AXES_RESET_ON_SUCCESS = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_LOCKOUT_CALLABLE = "studio.accounts.lockout.locked_out"
AXES_CLIENT_IP_CALLABLE = "studio.accounts.lockout.address"
AXES_DISABLE_ACCESS_LOG = True
AXES_ENABLE_ADMIN = False
AXES_VERBOSE = False
LOGIN_URL = "sign_in"
LOGIN_REDIRECT_URL = "projects"
LOGOUT_REDIRECT_URL = "sign_in"

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_I18N = False
USE_TZ = True

for _name, _package, _extra in (("GOUGE_S3_BUCKET", "storages", "s3"), ("GOUGE_REDIS_URL", "redis", "redis")):
    if os.environ.get(_name) and find_spec(_package) is None:
        raise ImproperlyConfigured(f"{_name} needs what comes with gouge[{_extra}]: pip install 'gouge[{_extra}]'")

STATIC_URL = "static/"
STATIC_ROOT = DATA_DIR / "static"
STATIC_ROOT.mkdir(mode=0o700, exist_ok=True)
WHITENOISE_USE_FINDERS = WHITENOISE_AUTOREFRESH = DEBUG
WHITENOISE_KEEP_ONLY_HASHED_FILES = True
MEDIA_ROOT = DATA_DIR / "media"
BUCKET = os.environ.get("GOUGE_S3_BUCKET", "")
STORAGES = {
    "default": (
        {
            "BACKEND": "storages.backends.s3.S3Storage",
            # keys, secrets and the region are read by boto3 from its own environment
            "OPTIONS": {
                "bucket_name": BUCKET,
                "endpoint_url": os.environ.get("GOUGE_S3_ENDPOINT") or None,
                "default_acl": None,
                "file_overwrite": True,
            },
        }
        if BUCKET
        else {"BACKEND": "studio.storage.WholeFiles"}
    ),
    # names with a hash of the content, made by collectstatic; plain ones while scripts are being edited
    "staticfiles": {
        "BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"
        if DEBUG
        else "studio.operations.statics.Hashed"
    },
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_500_000
FILE_UPLOAD_PERMISSIONS = 0o600
# beside the rest, so that leftovers of killed processes are found (studio/operations/retention.py)
FILE_UPLOAD_TEMP_DIR = DATA_DIR / "uploads"
FILE_UPLOAD_TEMP_DIR.mkdir(mode=0o700, exist_ok=True)

SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SECURE_SSL_REDIRECT = SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = HTTPS
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
# nothing but what the app itself ships
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "object-src": [NONE],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
GOUGE_FRONTED = bool(os.environ.get("GOUGE_FRONT"))
"""The server in front, which `manage.py serve` starts, gives the address of a request."""

SMTP, _, PORT = os.environ.get("GOUGE_SMTP", "").partition(":")
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if SMTP else 'filebased'}.EmailBackend"
EMAIL_FILE_PATH = DATA_DIR / "post-box"
EMAIL_HOST, EMAIL_PORT = SMTP, int(PORT or 25)
EMAIL_HOST_USER = os.environ.get("GOUGE_SMTP_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("GOUGE_SMTP_PASSWORD", "")
EMAIL_USE_TLS = bool(EMAIL_HOST_USER)
EMAIL_TIMEOUT = 10
DEFAULT_FROM_EMAIL = os.environ.get("GOUGE_MAIL_FROM", "gouge@localhost")

TEST_RUNNER = "tests.runner.Runner"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "{asctime} {levelname} {name}: {message}", "style": "{"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "filters": {"line": {"()": "config.lines.OneLine"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # a refusal with its reason is an answer, not an event
    "loggers": {
        "django.request": {"level": "ERROR"},
        # a request for another host is logged in a line, without a traceback
        "django.security.DisallowedHost": {"filters": ["line"]},
        "axes": {"level": "ERROR"},
    },
}
