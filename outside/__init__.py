"""The simulated world for demo and tests: a mail server with inboxes, a website, the clock.

It is reached over its protocols alone (SMTP, HTTP), as the real one would be.
"""
