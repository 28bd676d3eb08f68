"""Django's settings: safe by default, for one person's own machine."""

import os
from pathlib import Path

from csp.constants import NONE, SELF

from pneumen.web.site.data_format import DATABASE
from pneumen.web.site.places import data_folder, secret_key

WEB = Path(__file__).resolve().parent.parent
DATA = data_folder()
AUDIO = DATA / "audio"
INCOMING = DATA / "incoming"
PUT_AWAY = DATA / "put-away"
LIVE = DATA / "live"
PACKAGES = DATA / "packages"

SECRET_KEY = secret_key(DATA)
DEBUG = os.environ.get("PNEUMEN_DEBUG") == "1"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]  # loopback only; refuses DNS rebinding too
LOCAL_OWNER = "owner"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "csp",
    "django_htmx",
    "template_partials",
    "pneumen.web",
    "pneumen.web.audio",
    "pneumen.web.job",
    "pneumen.web.song",
    "pneumen.web.start",
    "pneumen.web.part",
    "pneumen.web.kit",
    "pneumen.web.gear",
    "pneumen.web.room",
    "pneumen.web.hookup",
    "pneumen.web.delay",
    "pneumen.web.place",
    "pneumen.web.gain",
    "pneumen.web.live",
    "pneumen.web.take",
    "pneumen.web.comp",
    "pneumen.web.send",
]
MIDDLEWARE = [
    "pneumen.web.site.middleware.ThisSiteOnly",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "pneumen.web.site.middleware.UploadLimit",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "pneumen.web.site.middleware.LocalOwner",
    "pneumen.web.site.middleware.ReaderHabits",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "pneumen.web.site.middleware.DiskFull",
]
ROOT_URLCONF = "pneumen.web.site.urls"
WSGI_APPLICATION = "pneumen.web.site.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "pneumen.web.frame.frame",
            ],
            "builtins": ["pneumen.web.templatetags.pneumen"],
        },
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / DATABASE,
        "CONN_MAX_AGE": None,  # a thread keeps its connection: opening one costs more than most questions
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;",
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
USE_I18N = False

STATIC_URL = "static/"
STATICFILES_DIRS = [WEB / "static"]
WHITENOISE_USE_FINDERS = True
WHITENOISE_MAX_AGE = 0  # asked anew each time: on one machine that costs nothing, and an update shows at once

MOST_UPLOAD_BYTES = 1_000_000_000
FILE_UPLOAD_TEMP_DIR = INCOMING
FILE_UPLOAD_HANDLERS = ["django.core.files.uploadhandler.TemporaryFileUploadHandler"]
DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000
DATA_UPLOAD_MAX_NUMBER_FILES = 500

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_HTTPONLY = True
CSRF_FAILURE_VIEW = "pneumen.web.site.errors.csrf_failure"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],  # Bootstrap draws small marks as data URIs
        "font-src": [SELF],
        "connect-src": [SELF],
        "media-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"brief_when_full": {"()": "pneumen.web.site.space.BriefWhenFull"}},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "filters": ["brief_when_full"]}},
    "loggers": {"django.request": {"handlers": ["stderr"], "level": "ERROR", "propagate": False}},
}
