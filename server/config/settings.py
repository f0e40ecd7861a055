"""Settings, from the environment; what is not set there fits a start on loopback."""

import os
from datetime import timedelta
from pathlib import Path

import structlog
from csp.constants import NONCE, NONE, SELF

from server.workspaces.logs import without_people

BASE_DIR = Path(__file__).resolve().parents[2]
DATA_DIR = Path(os.environ.get("YALLA_DATA", BASE_DIR / ".data"))
DEBUG = os.environ.get("YALLA_DEBUG") == "1"
SECRET_KEY = os.environ.get("YALLA_SECRET_KEY", "")
if not SECRET_KEY and DEBUG:
    SECRET_KEY = "only-for-development"

# Keys of their own for the hashes of erased addresses and of evidence, for secrets at rest and for
# signed consent records, the newest first, divided by spaces; they outlive SECRET_KEY, which can be
# replaced at any time. To replace one, put the new key before it and keep the old one (docs/runbook.md).
# What was made with SECRET_KEY, before there were such keys, is found as long as it stays.
ERASURE_KEYS = [*os.environ.get("YALLA_ERASURE_KEYS", "").split(), SECRET_KEY]
SIGNING_KEYS = [*os.environ.get("YALLA_SIGNING_KEYS", "").split(), SECRET_KEY]
EVIDENCE_KEYS = [*os.environ.get("YALLA_EVIDENCE_KEYS", "").split(), SECRET_KEY]
EVIDENCE_JOURNAL = os.environ.get("YALLA_EVIDENCE_JOURNAL", str(DATA_DIR / "evidence-journal"))
SEALING_KEYS = [*os.environ.get("YALLA_SEALING_KEYS", "").split(), SECRET_KEY]

# The address under which visitors and members reach this server; it goes into emails.
PUBLIC_ADDRESS = os.environ.get("YALLA_PUBLIC_ADDRESS", "http://127.0.0.1:8400").rstrip("/")
ALLOWED_HOSTS = os.environ.get("YALLA_HOSTS", "127.0.0.1 localhost").split()
CSRF_TRUSTED_ORIGINS = [PUBLIC_ADDRESS]
_SECURE = PUBLIC_ADDRESS.startswith("https://")
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = _SECURE
SECURE_SSL_REDIRECT = False
SECURE_HSTS_SECONDS = 31_536_000 if _SECURE else 0
SECURE_REFERRER_POLICY = "strict-origin-when-cross-origin"
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"

# In the demo and in tests the time of a workspace can be moved forward.
CLOCK_MOVABLE = os.environ.get("YALLA_CLOCK_MOVABLE") == "1"
OUTSIDE_TOKEN = os.environ.get("YALLA_OUTSIDE_TOKEN", "")
OUTSIDE_ADDRESS = os.environ.get("YALLA_OUTSIDE_ADDRESS", "")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "django.contrib.postgres",
    "axes",
    "csp",
    "django_structlog",
    "procrastinate.contrib.django",
    "server.workspaces",
    "server.snags",
    "server.people",
    "server.mail",
    "server.services",
    "server.inbound",
    "server.connections",
    "server.sequences",
    "server.sources",
    "server.submissions",
    "server.routing",
    "server.forms",
    "server.webhooks",
    "server.imports",
    "server.replays",
    "server.profiles",
    "server.consent",
    "server.audiences",
    "server.broadcasts",
    "server.doors",
    "server.notices",
    "server.desk",
    "server.stream",
    "server.config",
]
MIDDLEWARE = [
    "server.config.away.Away",
    "server.workspaces.deadlines.Deadlines",
    "server.config.edge.Edge",
    "django.middleware.security.SecurityMiddleware",
    "server.config.from_mail.FromMail",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django_structlog.middlewares.RequestMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
    "server.workspaces.history.Middleware",
]
CHECKS_HISTORY = False
"""Whether a change that leaves no history is an error; so in tests."""

ROOT_URLCONF = os.environ.get("YALLA_URLS", "server.config.urls")
WSGI_APPLICATION = "server.config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {"context_processors": ["django.template.context_processors.request"]},
    }
]

# Of the web server: how long a statement may take. Workers take what they need.
_SECONDS = os.environ.get("YALLA_STATEMENT_SECONDS", "")
_BOUNDED = {"options": f"-c statement_timeout={int(_SECONDS) * 1000}"} if _SECONDS else {}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("YALLA_DB_NAME", "yalla"),
        "USER": os.environ.get("YALLA_DB_USER", "yalla"),
        "PASSWORD": os.environ.get("YALLA_DB_PASSWORD", ""),
        "HOST": os.environ.get("YALLA_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("YALLA_DB_PORT", "5432"),
        "OPTIONS": {
            # A database that is away is an answer within two seconds, not a thread that waits.
            # As many as a worker has jobs at the same time (`worker.SLOTS`), and one to spare.
            "pool": {"min_size": 1, "max_size": 20, "timeout": 2},
            "connect_timeout": 2,
            **_BOUNDED,
        },
        # The databases of tests are copies of one that was migrated.
        "TEST": {"TEMPLATE": os.environ.get("YALLA_DB_TEMPLATE")},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

TEST_RUNNER = "tests.runner.Runner"
AUTH_USER_MODEL = "workspaces.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_USERNAME_FORM_FIELD = "username"
FAILURES_PER_NETWORK = 100
"""Wrong passwords from one network address, over all accounts, before it has to wait."""
AXES_VERBOSE = False

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
USE_I18N = True
# What visitors and subscribers read; the members' interface is English.
LANGUAGES = [
    ("en", "English"),
    ("ar", "العربية"),
    ("de", "Deutsch"),
    ("es", "Español"),
    ("fr", "Français"),
    ("it", "Italiano"),
    ("nl", "Nederlands"),
    ("pl", "Polski"),
    ("pt", "Português"),
    ("sv", "Svenska"),
]
LOCALE_PATHS = [BASE_DIR / "server" / "locale"]

STATIC_URL = "/static/"
STATIC_ROOT = DATA_DIR / "static"
WEB_BUILD = BASE_DIR / "web" / "dist"
STATICFILES_DIRS = [WEB_BUILD] if WEB_BUILD.is_dir() else []
STORAGES = {"staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"}}
# Vite puts a hash of the content into the names of what it builds.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[\w-]{8}\.\w+$"

_POLICY = {
    "default-src": [SELF],
    "script-src": [SELF],
    "style-src": [SELF, NONCE],
    "style-src-attr": [NONE],
    "img-src": [SELF, "data:"],
    "connect-src": [SELF],
    "object-src": [NONE],
    "base-uri": [NONE],
    "form-action": [SELF],
    "frame-ancestors": [NONE],
}
CONTENT_SECURITY_POLICY = {"DIRECTIVES": _POLICY}
# What anybody may send is bounded before it is read (64 KB, 200 fields); what members send, by the largest
# document there is (`server/config/api.py` says so where it is larger).
LARGEST_PUBLIC_BODY = 64 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 2**20
DATA_UPLOAD_MAX_NUMBER_FIELDS = 200
# A file box that was left empty counts as one; `server.forms.posts` refuses those with a file.
DATA_UPLOAD_MAX_NUMBER_FILES = 20
# Proxies in front of this server, each of which adds the address it was called from to
# X-Forwarded-For; without them that header is a visitor's own saying, and is not read.
PROXIES = int(os.environ.get("YALLA_PROXIES", "0"))
AXES_IPWARE_PROXY_COUNT = PROXIES or None
# Posts of one source within a minute, beyond which no more are taken; and from one network
# address within ten minutes, beyond which they are held (0: any number).
POSTS_PER_MINUTE = int(os.environ.get("YALLA_POSTS_PER_MINUTE", "1200"))
ROUTE_BATCH = int(os.environ.get("YALLA_ROUTE_BATCH", "200"))
"""Submissions that one job routes at most, in one transaction."""
POSTS_PER_VISITOR = int(os.environ.get("YALLA_POSTS_PER_VISITOR", "20"))
# Hosts (host or host:port, divided by spaces) that sheets may be fetched from although they
# are in a private network.
FETCH_HOSTS = os.environ.get("YALLA_FETCH_HOSTS", "").split()

EMAIL_BACKEND = "server.mail.backend.EmailBackend"
EMAIL_HOST = os.environ.get("YALLA_SMTP_HOST", "127.0.0.1")
EMAIL_PORT = int(os.environ.get("YALLA_SMTP_PORT", "8425"))
EMAIL_HOST_USER = os.environ.get("YALLA_SMTP_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("YALLA_SMTP_PASSWORD", "")
EMAIL_USE_TLS = os.environ.get("YALLA_SMTP_TLS") == "1"
EMAIL_TIMEOUT = 10
# The domain whose mail comes to this server (`python -m server.inbound`): bounces, complaints and
# emails that unsubscribe. Without one, they go to the address of the sender.
RETURN_DOMAIN = os.environ.get("YALLA_RETURN_DOMAIN", "").strip().lower()
INBOUND_HOST = os.environ.get("YALLA_INBOUND_HOST", "127.0.0.1")
INBOUND_LMTP = os.environ.get("YALLA_INBOUND_LMTP") == "1"
# Authorities that mailboxes are checked by (a file of PEM); empty: the system's.
IMAP_AUTHORITIES = os.environ.get("YALLA_IMAP_AUTHORITIES", "")
INBOUND_PORT = int(os.environ.get("YALLA_INBOUND_PORT", "8424"))
# The nameserver that the records of sending domains are looked up at, as host:port; empty: the
# system's.
NAMESERVER = os.environ.get("YALLA_NAMESERVER", "")

# Visitors' network addresses stand in no log, whatever a workspace keeps.
DJANGO_STRUCTLOG_IP_LOGGING_ENABLED = False

structlog.configure(
    processors=[
        structlog.contextvars.merge_contextvars,
        structlog.stdlib.filter_by_level,
        structlog.processors.TimeStamper(fmt="iso"),
        structlog.stdlib.add_logger_name,
        structlog.stdlib.add_log_level,
        structlog.processors.format_exc_info,
        structlog.stdlib.ProcessorFormatter.wrap_for_formatter,
    ],
    logger_factory=structlog.stdlib.LoggerFactory(),
    cache_logger_on_first_use=True,
)
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {
        "json": {
            "()": structlog.stdlib.ProcessorFormatter,
            "processors": [
                structlog.stdlib.ProcessorFormatter.remove_processors_meta,
                without_people,
                structlog.processors.JSONRenderer(),
            ],
            "foreign_pre_chain": [
                structlog.processors.TimeStamper(fmt="iso"),
                structlog.stdlib.add_logger_name,
                structlog.stdlib.add_log_level,
                structlog.processors.format_exc_info,
            ],
        }
    },
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "json"}},
    "root": {"handlers": ["stderr"], "level": os.environ.get("YALLA_LOG_LEVEL", "WARNING")},
    "loggers": {"yalla": {"level": os.environ.get("YALLA_LOG_LEVEL", "INFO")}},
}
