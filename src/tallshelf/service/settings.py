"""Django settings, drawn from `tallshelf.service.config`."""

from __future__ import annotations

import os
from pathlib import Path

from tallshelf.core.engine import engine_digest
from tallshelf.service.config import load_config
from tallshelf.service.web.log_settings import logging_settings

CONFIG = load_config(os.environ)
CONFIG.data.mkdir(parents=True, exist_ok=True)
if CONFIG.workers > 1:
    # Several processes count together, in files; it must be known before the metrics are loaded.
    os.environ["PROMETHEUS_MULTIPROC_DIR"] = str(CONFIG.counts)
    CONFIG.counts.mkdir(exist_ok=True)

ENGINE = engine_digest()
"""By which version of the judgements this service assesses."""
SECRET_KEY = CONFIG.key
DEBUG = False
ALLOWED_HOSTS = list(CONFIG.allowed_hosts)
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
ROOT_URLCONF = "tallshelf.service.urls"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "drf_spectacular",
    "django_prometheus",
    "tallshelf.service.jobs",
    "tallshelf.service.people",
    "tallshelf.service.ledger",
    "tallshelf.service.catalog",
    "tallshelf.service.kits",
    "tallshelf.service.review",
    "tallshelf.service.telling",
]
MIDDLEWARE = [
    "django_prometheus.middleware.PrometheusBeforeMiddleware",
    "tallshelf.service.web.logs.RequestLog",
    "django.middleware.security.SecurityMiddleware",
    "tallshelf.service.web.middleware.SecurityHeaders",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "tallshelf.service.web.middleware.Compressed",
    "django.middleware.http.ConditionalGetMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django_prometheus.middleware.PrometheusAfterMiddleware",
]
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": False}]
APPEND_SLASH = False

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": CONFIG.database,
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=wal; PRAGMA synchronous=full; PRAGMA foreign_keys=on;",
        },
    }
}

AUTH_USER_MODEL = "people.Person"
AUTHENTICATION_BACKENDS = ["tallshelf.service.people.backend.PasswordBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ("username", "name")},
    },
    {"NAME": "tallshelf.service.people.passwords.NoWordOfThisPlace"},
]
if CONFIG.refused_passwords:
    AUTH_PASSWORD_VALIDATORS.append(
        {
            "NAME": "django.contrib.auth.password_validation.CommonPasswordValidator",
            "OPTIONS": {"password_list_path": CONFIG.refused_passwords},
        }
    )

# With the prefix a browser takes the cookie only from this very host, and over TLS.
_COOKIE_PREFIX = "__Host-" if CONFIG.https else ""
SESSION_COOKIE_NAME = f"{_COOKIE_PREFIX}tallshelf_session"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CONFIG.https
SESSION_COOKIE_AGE = CONFIG.session_hours * 3600
CSRF_COOKIE_NAME = f"{_COOKIE_PREFIX}tallshelf_csrf"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SECURE = CONFIG.https
CSRF_FAILURE_VIEW = "tallshelf.service.web.problems.forged"
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if CONFIG.https else None
SECURE_HSTS_SECONDS = 365 * 86_400 if CONFIG.https else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
DATA_UPLOAD_MAX_MEMORY_SIZE = 8_000_000

STATIC_URL = "/static/"
STATICFILES_DIRS = [Path(__file__).parent / "static"]
CONSOLE_DIR = Path(__file__).parent / "static" / "console"
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
# Vite names each asset by a hash of its content.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/console/assets/.+-[\w-]{8}\.\w+$"

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "tallshelf.service.web.authentication.TokenAuthentication",
        "tallshelf.service.web.authentication.ConsoleSession",
    ],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["tallshelf.service.web.render.FastJSON"],
    "DEFAULT_PARSER_CLASSES": ["tallshelf.service.web.parse.StrictJSON"],
    "EXCEPTION_HANDLER": "tallshelf.service.web.problems.handle",
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "DEFAULT_THROTTLE_CLASSES": ["tallshelf.service.web.rate_limit.CallsOfAccount"],
    "NUM_PROXIES": CONFIG.proxies,
    "UNAUTHENTICATED_USER": None,
    "URL_FORMAT_OVERRIDE": None,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Tall Shelf",
    "DESCRIPTION": "An internal catalog of approved tool servers.",
    "VERSION": "1",
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "SCHEMA_PATH_PREFIX": "/api/v1",
    "POSTPROCESSING_HOOKS": [
        "tallshelf.service.web.openapi.add_formats",
        "tallshelf.service.web.openapi_answers.add_answers",
    ],
}
LOGGING = logging_settings(CONFIG.log_format, CONFIG.log_level)
PROMETHEUS_EXPORT_MIGRATIONS = False
