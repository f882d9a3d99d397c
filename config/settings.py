"""Settings. Everything that differs between places comes from the environment.

GOUGE_DATA      folder for the database, photos and the secret key (default: var)
GOUGE_HOSTS     host names served, separated by commas
GOUGE_HTTPS     1 where a proxy in front speaks https
GOUGE_SECONDS   how long a command may take before it is given up (default: 30)
GOUGE_LABOURERS processes for long work beside each web worker (default: 1)
GOUGE_MEMORY    megabytes of address space that long work may take (default: 6000)
GOUGE_AT_ONCE   megapixels up to which a delivery is answered at once, without the queue (default: 60)
GOUGE_WORKERS_QUEUED  processes that do queued work, beside the web server (default: 2; 0 where others do it)
GOUGE_REDIS_URL where the queue is, for workers on many machines (default: a file in GOUGE_DATA)
GOUGE_S3_BUCKET keeps photos and deliveries in an S3 bucket, at GOUGE_S3_ENDPOINT where that is not Amazon's
GOUGE_DEBUG     1 for Django's debug pages
GOUGE_DEMO      1 opens the demo account's door; `make demo` sets it
"""

import os
import secrets
from pathlib import Path

BASE_DIR = Path(__file__).resolve().parent.parent
DATA_DIR = Path(os.environ.get("GOUGE_DATA", BASE_DIR / "var"))
DATA_DIR.mkdir(parents=True, exist_ok=True)


def _secret_key() -> str:
    file = DATA_DIR / "secret-key"
    if not file.exists():
        file.write_text(secrets.token_urlsafe(50))
        file.chmod(0o600)
    return file.read_text()


SECRET_KEY = os.environ.get("GOUGE_SECRET_KEY") or _secret_key()
DEBUG = os.environ.get("GOUGE_DEBUG") == "1"
GOUGE_DEMO = os.environ.get("GOUGE_DEMO") == "1"
ALLOWED_HOSTS = os.environ.get("GOUGE_HOSTS", "127.0.0.1,localhost").split(",")
GOUGE_SECONDS = float(os.environ.get("GOUGE_SECONDS", "30"))
GOUGE_LABOURERS = int(os.environ.get("GOUGE_LABOURERS", "1"))
GOUGE_MEMORY = int(os.environ.get("GOUGE_MEMORY", "6000"))
GOUGE_AT_ONCE = float(os.environ.get("GOUGE_AT_ONCE", "60"))
GOUGE_WORKERS_QUEUED = int(os.environ.get("GOUGE_WORKERS_QUEUED", "2"))
GOUGE_QUEUE = os.environ.get("GOUGE_REDIS_URL") or str(DATA_DIR / "queue.sqlite3")
HTTPS = os.environ.get("GOUGE_HTTPS") == "1"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "studio",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "studio.middleware.content_security_policy",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        # a panel's template stands beside its module
        "DIRS": [BASE_DIR / "studio"],
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
        "NAME": DATA_DIR / "gouge.sqlite3",
        "CONN_MAX_AGE": None,
        # in a file, so that tests run in WAL mode too
        "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            # in WAL mode a killed process loses nothing that was committed
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "sign_in"
LOGIN_REDIRECT_URL = "projects"
LOGOUT_REDIRECT_URL = "sign_in"

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_I18N = False
USE_TZ = True

STATIC_URL = "static/"
STATIC_ROOT = DATA_DIR / "static"
STATIC_ROOT.mkdir(exist_ok=True)
# served straight from the app's folders where nothing was collected
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = DEBUG
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
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_500_000
FILE_UPLOAD_PERMISSIONS = 0o600

SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

TEST_RUNNER = "tests.runner.Runner"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "{asctime} {levelname} {name}: {message}", "style": "{"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # a refusal with its reason is an answer, not an event
    "loggers": {"django.request": {"level": "ERROR"}},
}
