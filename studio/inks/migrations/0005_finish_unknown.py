"""A card's finish may be unknown: it changes predictions now, so it is not to be guessed."""

from django.db import migrations, models

FINISHES = ("", "absorbent", "smooth", "vellum-finish", "coated")


class Migration(migrations.Migration):
    dependencies = [("inks", "0004_chemistries")]

    operations = [
        migrations.AlterField(
            "stock",
            "finish",
            models.CharField(
                blank=True, choices=[(f, f) for f in FINISHES], default="", max_length=16
            ),
        )
    ]
