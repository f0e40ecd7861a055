"""Tests of the server and of the whole, with real PostgreSQL, SMTP and Chromium."""
