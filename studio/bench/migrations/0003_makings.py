"""A place in the steps becomes what was done: each pass that was finished is an event of the first making."""

from __future__ import annotations

from typing import Any

import django.db.models.deletion
from django.db import migrations, models


def done_of_runs(apps: Any, _: Any) -> None:
    Run, Making, Event = (apps.get_model("bench", name) for name in ("Run", "Making", "Event"))
    for run in Run.objects.exclude(step=0):
        making = Making.objects.create(colouring_id=run.colouring_id, number=1)
        began = run.updated.timestamp() - 600 * len(run.done)
        for n, key in enumerate(run.done):
            body = {"step": f"ink:{key}", "kind": "ink", "card": 1, "minutes": 1.0, "masks": [], "pass": key}
            Event.objects.create(making=making, key=f"run{run.pk}-{n}", at=began + 600 * n, kind="done", body=body)


class Migration(migrations.Migration):
    dependencies = [("bench", "0002_run_of_a_colouring"), ("builds", "0006_better_order")]

    operations = [
        migrations.CreateModel(
            name="Making",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField(default=1)),
                ("begun", models.DateTimeField(auto_now_add=True)),
                ("colouring", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="makings", to="builds.colouring")),
            ],
            options={"ordering": ["number"]},
        ),
        migrations.AddConstraint(
            model_name="making",
            constraint=models.UniqueConstraint(fields=("colouring", "number"), name="one_making_a_number"),
        ),
        migrations.CreateModel(
            name="Event",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64)),
                ("at", models.FloatField()),
                ("kind", models.CharField(max_length=20)),
                ("by", models.CharField(blank=True, max_length=64)),
                ("body", models.JSONField(default=dict)),
                ("arrived", models.DateTimeField(auto_now_add=True)),
                ("making", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="events", to="bench.making")),
            ],
            options={"ordering": ["at", "key"]},
        ),
        migrations.AddConstraint(
            model_name="event",
            constraint=models.UniqueConstraint(fields=("making", "key"), name="one_event_a_key"),
        ),
        migrations.RunPython(done_of_runs, migrations.RunPython.noop),
        migrations.DeleteModel(name="Run"),
    ]
