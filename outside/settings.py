"""Settings of the outside world's own small web server; it has no database."""

import os
import secrets
from pathlib import Path

BASE_DIR = Path(__file__).resolve().parent
SECRET_KEY = secrets.token_urlsafe(40)
ALLOWED_HOSTS = ["127.0.0.1", "localhost"]
ROOT_URLCONF = "outside.urls"
INSTALLED_APPS = ["django.contrib.staticfiles"]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
]
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE_DIR / "templates"],
        "OPTIONS": {"context_processors": []},
    }
]
STATIC_URL = "/static/"
STATICFILES_DIRS = [BASE_DIR / "static"]
WHITENOISE_USE_FINDERS = True
USE_TZ = True

MAIL_FOLDER = Path(os.environ.get("YALLA_DATA", ".data")) / "outside" / "mail"
SHEET_FOLDER = Path(os.environ.get("YALLA_DATA", ".data")) / "outside" / "sheets"
YALLA_ADDRESS = os.environ.get("YALLA_PUBLIC_ADDRESS", "http://127.0.0.1:8400")
YALLA_TOKEN = os.environ.get("YALLA_OUTSIDE_TOKEN", "")
PORT = int(os.environ.get("YALLA_OUTSIDE_PORT", "8410"))
INBOUND_PORT = int(os.environ.get("YALLA_INBOUND_PORT", "8424"))
SMTP_PORT = int(os.environ.get("YALLA_SMTP_PORT", "8425"))
SERVICE_FILE = Path(os.environ.get("YALLA_DATA", ".data")) / "outside" / "services.sqlite"
