"""Kept measures lack the opening that slips off its base first: they are taken anew when asked for."""

from __future__ import annotations

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def forgotten(apps: Apps, _: BaseDatabaseSchemaEditor | None = None) -> None:
    apps.get_model("sets", "Measuring").objects.update(found=None, job=None)


class Migration(migrations.Migration):
    dependencies = [("sets", "0006_measured_anew")]
    operations = [migrations.RunPython(forgotten, migrations.RunPython.noop)]
