"""Glazes, pastes, powders, paints and markers lie in the drawer beside ink pads."""

from django.db import migrations, models

KINDS = ("dye", "pigment", "hybrid", "metallic", "glaze", "paste", "powder", "paint", "marker")


class Migration(migrations.Migration):
    dependencies = [("inks", "0003_one_history")]

    operations = [
        migrations.AlterField(
            "ink", "chemistry", models.CharField(choices=[(k, k) for k in KINDS], max_length=10)
        )
    ]
