"""Start the outside world: the mail server and the web server, in one process."""

import os

os.environ["DJANGO_SETTINGS_MODULE"] = "outside.settings"

from django.core.wsgi import get_wsgi_application
from gunicorn.app.base import BaseApplication

from . import settings
from .mailbox import Mailbox
from .smtp import mail_server


class WebServer(BaseApplication):  # type: ignore[misc]
    """Gunicorn with one worker, which also runs the mail server in a thread of its own."""

    def load_config(self) -> None:
        self.cfg.set("bind", f"127.0.0.1:{settings.PORT}")
        self.cfg.set("threads", 8)
        self.cfg.set("loglevel", "warning")
        self.cfg.set("post_worker_init", lambda worker: _start_mail())

    def load(self) -> object:
        return get_wsgi_application()


def _start_mail() -> None:
    mail_server(Mailbox(settings.MAIL_FOLDER), settings.SMTP_PORT).start()


if __name__ == "__main__":
    WebServer().run()
