"""The core on its own: no database, no network, no clock."""

from hypothesis import HealthCheck, settings

# How long a case takes says nothing: the machine may be doing something else.
PROFILE = "yalla"
settings.register_profile(PROFILE, deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile(PROFILE)
