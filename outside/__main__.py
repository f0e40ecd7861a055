"""Start the outside world: the mail server and the web server, in one process."""

import logging
import os

os.environ["DJANGO_SETTINGS_MODULE"] = "outside.settings"

from django.core.wsgi import get_wsgi_application
from waitress import serve

from . import settings
from .mailbox import Mailbox
from .smtp import mail_server

if __name__ == "__main__":
    application = get_wsgi_application()
    # What the services answer on purpose is no news.
    logging.getLogger("django.request").setLevel(logging.CRITICAL)
    mail_server(Mailbox(settings.MAIL_FOLDER), settings.SMTP_PORT).start()
    serve(application, host="127.0.0.1", port=settings.PORT, threads=8, ident=None)
