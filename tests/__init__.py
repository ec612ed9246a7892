"""All tests. Drawn examples are the same on every run, and a slow machine is no failure."""

from hypothesis import HealthCheck, settings

settings.register_profile(
    "table", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("table")
