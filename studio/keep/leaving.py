"""An account given up: everything of a maker, in the database and beside it."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction

from studio.accounts.signing_in import sign_out_everywhere
from studio.builds.models import Build
from studio.carry.carrying import place_of
from studio.carry.models import Carry
from studio.jobs import queue
from studio.jobs.models import Job
from studio.sets.models import Import
from studio.sets.reading import folder


def leave_for_good(maker: Any) -> None:
    """Nothing of a maker stays."""
    for job in Job.objects.filter(owner=maker, state__in=Job.OPEN):
        queue.stop(job)
    folders = [folder(pk) for pk in Import.objects.filter(owner=maker).values_list("pk", flat=True)]
    files = [place_of(row) for row in Carry.objects.filter(owner=maker)]
    files.append(Path(settings.READER_DIR) / f"{maker.pk}.json")
    sign_out_everywhere(maker)
    with transaction.atomic():
        # what lies on panels keeps its sets: panels go first
        Build.objects.filter(owner=maker).delete()
        maker.delete()
    for path in folders:
        shutil.rmtree(path, ignore_errors=True)
    for path in files:
        path.unlink(missing_ok=True)
