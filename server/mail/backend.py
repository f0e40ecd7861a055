"""Django's SMTP backend, for finished messages and for addresses beyond ASCII (RFC 6531)."""

import smtplib
from typing import Any

from django.core.mail import EmailMultiAlternatives
from django.core.mail.backends.smtp import EmailBackend as DjangoBackend

from .headers import addr_spec, needs_utf8


class EmailBackend(DjangoBackend):
    """Hands messages over with the envelope exactly as it is."""

    def _send(self, email_message: Any) -> bool:
        """One message; raises what smtplib raises.

        `SMTPNotSupportedError`: an address needs SMTPUTF8, and the server does not offer it.
        Nothing has been sent then.
        """
        assert isinstance(email_message, EmailMultiAlternatives)
        recipients = email_message.recipients()
        if not recipients:
            return False
        addresses = [addr_spec(one) for one in (email_message.from_email, *recipients)]
        server = self.connection
        assert server is not None
        options: tuple[str, ...] = ()
        if needs_utf8(*addresses):
            server.ehlo_or_helo_if_needed()
            if not server.has_extn("smtputf8"):
                raise smtplib.SMTPNotSupportedError(
                    "the mail server does not take addresses beyond ASCII (SMTPUTF8)"
                )
            options = ("SMTPUTF8", "BODY=8BITMIME")
        server.sendmail(
            addresses[0], addresses[1:], email_message.message().as_bytes(), mail_options=options
        )
        return True
