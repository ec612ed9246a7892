"""A hundred builds out as one archive and in again: seconds each way, and the size of the archive."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from time import perf_counter

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
BUILDS = 100


def account() -> None:
    """Print the figures."""
    os.environ["ANASTRATA_DATA"] = tempfile.mkdtemp(prefix="bench-")
    import django

    django.setup()
    from django.contrib.auth import get_user_model
    from django.core.management import call_command

    call_command("migrate", verbosity=0)
    from studio.builds.history import begin_again
    from studio.builds.looking import plan_of
    from studio.builds.management.commands.seed_demo import seed
    from studio.builds.models import Colouring
    from studio.carry.archive import read_account, write_account

    User = get_user_model()
    one, other = User.objects.create(username="one"), User.objects.create(username="other")
    seed(one)
    begun = list(Colouring.objects.filter(build__owner=one).select_related("build"))
    for n in range(BUILDS - len(begun)):
        first = begun[n % len(begun)]
        begin_again(first.build, f"{first.build.name} {n}", plan_of(first), "Start")
    start = perf_counter()
    data, _ = write_account(one, lambda share, doing: None)
    out = perf_counter() - start
    start = perf_counter()
    read_account(other, data, lambda share, doing: None)
    print(
        f"account of {BUILDS} builds: out {out:.1f} s, in {perf_counter() - start:.1f} s, {len(data) / 1e6:.1f} MB"
    )


if __name__ == "__main__":
    account()
