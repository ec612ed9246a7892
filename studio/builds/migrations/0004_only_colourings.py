"""What the colourings have taken over goes from the build."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("builds", "0003_colourings"), ("bench", "0002_run_of_a_colouring")]

    operations = [
        migrations.RemoveConstraint("change", "one_change_a_number"),
        migrations.RemoveConstraint("change", "one_edit_once"),
        migrations.RemoveField("build", "head"),
        migrations.RemoveField("build", "layer_set"),
        migrations.RemoveField("build", "set_change"),
        migrations.RemoveField("change", "build"),
        migrations.RemoveField("change", "edit_key"),
        migrations.AlterField(
            "change",
            "colouring",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="changes", to="builds.colouring"
            ),
        ),
        migrations.AddConstraint(
            "change",
            models.UniqueConstraint(fields=("colouring", "number"), name="one_change_a_number"),
        ),
    ]
