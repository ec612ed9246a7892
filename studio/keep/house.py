"""How it is: what who runs the house wants to know in one look."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import segno
from django.conf import settings
from django.contrib.auth import get_user_model
from django.utils import timezone

from studio.accounts.models import House, Invitation
from studio.bounds import kept_by
from studio.gate import free_bytes
from studio.jobs.models import Job
from studio.keep import backups
from studio.serving import served_at

OLD = 8
# days after which a backup is said to be old


def _makers() -> list[dict[str, Any]]:
    rows = get_user_model().objects.filter(is_active=True).order_by("pk")
    return [
        {
            "id": u.pk,
            "name": u.get_username(),
            "kept_mb": round(kept_by(u) / 1e6, 1),
            "seen": u.last_login.isoformat() if u.last_login else None,
        }
        for u in rows
    ]


def house_json() -> dict[str, Any]:
    """Everything of it as JSON values."""
    data = Path(settings.DATA_DIR) / backups.DATABASE
    latest = next(iter(backups.all_of()), None)
    age = (datetime.now(UTC) - latest.made).days if latest else None
    waiting = Invitation.objects.filter(used=None, expires__gt=timezone.now())
    return {
        "version": settings.SPECTACULAR_SETTINGS["VERSION"],
        "open": House.is_open(),
        "makers": _makers(),
        "free_mb": round(free_bytes() / 1e6),
        "data_mb": round(data.stat().st_size / 1e6, 1) if data.exists() else 0.0,
        "jobs": Job.objects.filter(state__in=Job.OPEN).count(),
        "failed": Job.objects.filter(state="failed").count(),
        "backup": {"made": latest.made.isoformat(), "old": (age or 0) >= OLD} if latest else None,
        "addresses": [{"address": a, "code": code_of(a)} for a in served_at()],
        "invitations": [
            {
                "id": i.pk,
                "said": i.said,
                "reset": i.reset.get_username() if i.reset else "",
                "expires": i.expires.isoformat(),
            }
            for i in waiting.select_related("reset")
        ],
    }


def code_of(address: str) -> str:
    """An address as a QR code (ISO/IEC 18004): SVG path data of dark modules, one unit each, with a quiet zone of four."""
    rows = segno.make(address, error="m").matrix
    return "".join(
        f"M{x + 4},{y + 4}h1v1h-1z" for y, row in enumerate(rows) for x, dark in enumerate(row) if dark
    )


def code_side(address: str) -> int:
    """How many units such a code is wide, its quiet zone included."""
    return len(segno.make(address, error="m").matrix) + 8
