"""The table's run belongs to a colouring, and its place goes by steps, not by their words."""

import django.db.models.deletion
from django.db import migrations, models


def move(apps, schema_editor):
    """One build had one colouring."""
    Colouring = apps.get_model("builds", "Colouring")
    for run in apps.get_model("bench", "Run").objects.all():
        run.colouring = Colouring.objects.filter(build_id=run.build_id).first()
        run.save(update_fields=["colouring"])


class Migration(migrations.Migration):
    dependencies = [("bench", "0001_initial"), ("builds", "0003_colourings")]

    operations = [
        migrations.AddField("run", "revision", models.PositiveIntegerField(default=1)),
        migrations.AddField("run", "step_key", models.CharField(blank=True, max_length=200)),
        migrations.AddField(
            "run",
            "colouring",
            models.OneToOneField(
                null=True, on_delete=django.db.models.deletion.CASCADE, to="builds.colouring"
            ),
        ),
        migrations.RunPython(move, migrations.RunPython.noop),
        migrations.RemoveField("run", "build"),
        migrations.AlterField(
            "run",
            "colouring",
            models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, to="builds.colouring"),
        ),
    ]
