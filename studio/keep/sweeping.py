"""What nobody will ask for again: sessions that ended, work that was done long ago, sets that were never kept."""

from __future__ import annotations

from datetime import timedelta

from django.contrib.sessions.models import Session
from django.db.models import Q
from django.utils import timezone

from studio.accounts.models import Invitation
from studio.carry.carrying import place_of
from studio.carry.models import Carry
from studio.jobs.models import Job
from studio.sets import imports
from studio.sets.models import Import

DAYS = 30
# after which a set that is on its way in, and work that is done, are no longer waited for
ARCHIVES = 3
# days that an archive of an account lies ready


def sweep() -> dict[str, int]:
    """Let go of it; how many of each."""
    now = timezone.now()
    old = now - timedelta(days=DAYS)
    found = {"sessions": Session.objects.filter(expire_date__lt=now).delete()[0]}
    found["invitations"] = Invitation.objects.filter(Q(expires__lt=old) | Q(used__lt=old)).delete()[0]
    coming = list(Import.objects.filter(updated__lt=old))
    for row in coming:
        imports.let_go(row)
    found["sets that were never kept"] = len(coming)
    packed = Carry.objects.filter(job__updated__lt=now - timedelta(days=ARCHIVES)).exclude(
        job__state__in=Job.OPEN
    )
    found["archives"] = sum(1 for row in packed if _unlinked(row))
    # what a screen still shows the end of is kept with it
    shown = [
        pk
        for way in Job._meta.related_objects
        for pk in way.related_model._default_manager.exclude(**{way.field.name: None}).values_list(
            way.field.attname, flat=True
        )
    ]
    done = Job.objects.filter(updated__lt=old).exclude(state__in=Job.OPEN).exclude(pk__in=shown)
    found["jobs"] = done.delete()[0]
    return found


def _unlinked(row: Carry) -> bool:
    """Whether an archive lay there, and is gone now."""
    path = place_of(row)
    if not path.exists():
        return False
    path.unlink()
    return True
