"""Waiting for a job to end while its maker's request is held: an answer a moment later spares her browser asking again."""

from __future__ import annotations

import time
from threading import BoundedSemaphore

from studio.jobs.models import Job
from studio.jobs.queue import ends_within

LONGEST_MS = 1000
_EVERY = 0.025
# s: a look at one row takes a fiftieth of it
_MOST = BoundedSemaphore(3)
# requests of a process that wait at once: the others of its threads answer


def wait_for(job: Job | None, seconds: float) -> bool:
    """Whether the request waited for a job that was open: until it has ended, or so long. Not at all where enough wait
    already, and no longer when the process ends."""
    if job is None or job.state not in Job.OPEN or seconds <= 0 or not _MOST.acquire(blocking=False):
        return False
    try:
        until = time.monotonic() + seconds
        still = Job.objects.filter(pk=job.pk, state__in=Job.OPEN)
        while still.exists() and (left := until - time.monotonic()) > 0:
            if ends_within(min(_EVERY, left)):
                break
        return True
    finally:
        _MOST.release()
