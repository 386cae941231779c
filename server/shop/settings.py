"""Settings. Everything that differs between shops comes from the environment."""

import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
VAR = Path(os.environ.get("HORISMOS_VAR", ROOT / "var"))
VAR.mkdir(parents=True, exist_ok=True)


def _secret() -> str:
    """A key of this installation, made once and kept beside its data."""
    path = VAR / "secret"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(50))
    return path.read_text()


SECRET_KEY = os.environ.get("HORISMOS_SECRET") or _secret()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("HORISMOS_HOSTS", "127.0.0.1,localhost,testserver").split(",")
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django_tasks",
    "django_tasks_db",
    "shop",
    "jobs",
    "worker",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "shop.urls"
WSGI_APPLICATION = "shop.wsgi.application"
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": VAR / "horismos.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;",
        },
        "TEST": {"NAME": VAR / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TASKS = {"default": {"BACKEND": os.environ.get("HORISMOS_TASKS", "django_tasks_db.DatabaseBackend")}}
CARRY_OUT = "worker.tasks.carry_out"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"}
]
USE_TZ = True
TIME_ZONE = "UTC"
STATIC_URL = "/static/"
STATIC_ROOT = VAR / "static"
WHITENOISE_ROOT = ROOT / "web" / "dist"
WEB_INDEX = ROOT / "web" / "dist" / "index.html"
SHOP_NAME = os.environ.get("HORISMOS_SHOP", "Tern & Tideway")
MOST_UPLOAD_BYTES = 500_000_000
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
