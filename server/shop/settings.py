"""Settings. Everything that differs between shops comes from the environment; see docs/running.md."""

import os
import secrets
from datetime import timedelta
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

from horismos.sandbox.jail import offered

ROOT = Path(__file__).resolve().parents[2]
VAR = Path(os.environ.get("HORISMOS_VAR", ROOT / "var"))
os.umask(0o077)  # customers' artwork and the database are for this account alone
VAR.mkdir(parents=True, exist_ok=True)
if VAR.stat().st_uid == os.getuid() and VAR.stat().st_mode & 0o077:
    VAR.chmod(0o700)  # it was there before


def _secret() -> str:
    """A key of this installation, made once and kept beside its data, whole or not at all."""
    path, new = VAR / "secret", VAR / f"secret.{os.getpid()}.{secrets.token_hex(4)}"
    if not path.exists():
        new.write_text(secrets.token_urlsafe(50))
        try:
            os.link(new, path)
        except FileExistsError:
            pass  # another process was first
        finally:
            new.unlink()
    return path.read_text()


def _listed(name: str, default: str = "") -> list[str]:
    return [part.strip() for part in os.environ.get(name, default).split(",") if part.strip()]


TLS = os.environ.get("HORISMOS_TLS") == "1"
"""Whether people reach this server by https alone, as they should."""
SECRET_KEY = os.environ.get("HORISMOS_SECRET") or _secret()
DEBUG = False
ALLOWED_HOSTS = _listed("HORISMOS_HOSTS", "127.0.0.1,localhost,testserver")
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS] if TLS else []
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "csp",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "shop",
    "people",
    "jobs",
    "worker",
]
MIDDLEWARE = [
    "shop.requests.Numbered",
    "shop.metrics.Monitored",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "shop.requests.Gate",
    "django.middleware.csrf.CsrfViewMiddleware",
    "axes.middleware.AxesMiddleware",
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend",
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
USE_TZ = True
TIME_ZONE = "UTC"
SHOP_NAME = os.environ.get("HORISMOS_SHOP", "")
"""What letters are signed with until the shop has a name of its own on its Shelf."""

# -- people -----------------------------------------------------------------------------------------

_RULES = "django.contrib.auth.password_validation."
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"{_RULES}MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": f"{_RULES}CommonPasswordValidator"},
    {"NAME": f"{_RULES}NumericPasswordValidator"},
    {"NAME": f"{_RULES}UserAttributeSimilarityValidator"},
    {"NAME": "people.passwords.Varied"},
]
MOST_WRONG_BY_ADDRESS = int(os.environ.get("HORISMOS_WRONG_BY_ADDRESS", "20"))
MOST_WRONG_IN_ALL = int(os.environ.get("HORISMOS_WRONG_IN_ALL", "300"))
"""So many wrong passwords within five minutes, under whatever names, from one address and from all together."""
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]  # who shares the address is not locked out
AXES_FAILURE_LIMIT = 9  # eight wrong ones are answered, the ninth is not
AXES_COOLOFF_TIME = timedelta(minutes=5)
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_RESET_ON_SUCCESS = True
AXES_CLIENT_IP_CALLABLE = "people.address.of"
AXES_LOCKOUT_CALLABLE = "people.address.too_often"
AXES_VERBOSE = False
OTP_TOTP_ISSUER = "Horismos"
SESSION_COOKIE_AGE = int(float(os.environ.get("HORISMOS_SESSION_HOURS", "12")) * 3600)
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = TLS

# -- what browsers are told --------------------------------------------------------------------------

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE], "script-src": [SELF], "style-src": [SELF, NONCE], "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF], "connect-src": [SELF], "manifest-src": [SELF], "base-uri": [NONE], "form-action": [SELF],
        "frame-ancestors": [NONE], "object-src": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if TLS else 0
SECURE_SSL_REDIRECT = TLS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if TLS and _listed("HORISMOS_PROXIES") else None

# -- files -------------------------------------------------------------------------------------------

EXAMPLES = os.environ.get("HORISMOS_EXAMPLES") == "1"
"""Whether a new Shelf begins with all that ships; otherwise it is empty, and a guide asks what the shop has."""
STATIC_URL = "/static/"
STATIC_ROOT = None
WHITENOISE_ROOT = ROOT / "web" / "dist"
WEB_INDEX = ROOT / "web" / "dist" / "index.html"
MOST_UPLOAD_BYTES = int(float(os.environ.get("HORISMOS_UPLOAD_MB", "500")) * 1_000_000)
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
FILE_UPLOAD_HANDLERS = ["jobs.store.uploads.StoringHandler"]
STORE = os.environ.get("HORISMOS_STORE", "")
"""Where the content of files lies: a folder, or s3://bucket?endpoint=…; empty for a folder beside the data."""
CACHE_BYTES = int(float(os.environ.get("HORISMOS_CACHE_MB", "4000")) * 1_000_000)
"""How much of a store that lies elsewhere is kept beside the data."""
SLOTS = int(os.environ.get("HORISMOS_SLOTS", "1"))
"""How many workers of this machine work beside each other; ``serve`` says it to them."""
BROKER = os.environ.get("HORISMOS_BROKER", "")
"""The broker whose workers carry out steps, as redis://host or amqp://host; empty: this machine does all by itself."""
METRICS_TOKEN = os.environ.get("HORISMOS_METRICS_TOKEN", "")
"""Who says this as a bearer token may read /metrics; without one only this machine may."""
JAIL = {"on": True, "off": False}.get(os.environ.get("HORISMOS_JAIL", ""), offered())
"""Whether what handles customers' files lives in a jail; without a word it does where the machine offers one."""
SCRATCH = VAR / "scratch"
WATCHED = Path(os.environ.get("HORISMOS_WATCHED", VAR / "watched"))
"""Where the watched folders of the Shelf lie."""
MEMORY_MB = float(os.environ.get("HORISMOS_MEMORY_MB", "0"))
"""How much memory the shop may hold as a whole, in MB; 0 for three quarters of what the machine has."""
CUTTERS = dict(
    part.split("=", 1) for part in os.environ.get("HORISMOS_CUTTERS", "").split() if "=" in part
)
"""Where cut files are sent to, as destination=host:port in a row; without one a simulated device takes them."""
FILE_UPLOAD_TEMP_DIR = VAR / "uploads"
FILE_UPLOAD_TEMP_DIR.mkdir(parents=True, exist_ok=True)
FILE_UPLOAD_PERMISSIONS = 0o600
TRUSTED_PROXIES = _listed("HORISMOS_PROXIES")
"""Addresses of proxies whose word on where a request came from counts."""

# -- the log -----------------------------------------------------------------------------------------

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"number": {"()": "shop.requests.NumberFilter"}, "refusals": {"()": "shop.requests.Refusals"}},
    "formatters": {"line": {
        "()": "shop.requests.OneLine", "format": "%(asctime)s %(levelname)s %(name)s [%(number)s] %(message)s",
    }},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "line", "filters": ["number", "refusals"]}},
    "root": {"handlers": ["stderr"], "level": os.environ.get("HORISMOS_LOG", "INFO")},
    "loggers": {
        "django": {"handlers": [], "level": "INFO", "propagate": True},
        "django.request": {"level": "ERROR"},  # refusals stand in horismos.requests
        "django.server": {"handlers": [], "propagate": True},
        "axes": {"level": "ERROR"},
        "pikepdf": {"level": "WARNING"},
        "waitress.queue": {"level": "ERROR"},
    },
}
