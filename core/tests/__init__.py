"""The core on its own: no database, no network, no clock."""

from hypothesis import settings

# How long a case takes says nothing: the machine may be doing something else.
settings.register_profile("yalla", deadline=None)
settings.load_profile("yalla")
