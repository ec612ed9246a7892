"""All tests. Drawn examples are the same on every run of the same tests, and neither a slow machine nor examples that do
not fit are a failure."""

from hypothesis import HealthCheck, settings

settings.register_profile(
    "table",
    deadline=None,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much],
)
settings.load_profile("table")
