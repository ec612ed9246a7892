"""Whole numbers for the drawer's versions, identities for the cards under swatches, jobs for readings."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def number_drawers(apps, schema_editor):
    """A drawer for every maker who has anything in one."""
    Drawer = apps.get_model("inks", "Drawer")
    owners = set()
    for name in ("Ink", "Stock", "Tool"):
        owners |= set(apps.get_model("inks", name).objects.values_list("owner_id", flat=True))
    Drawer.objects.bulk_create([Drawer(owner_id=pk, revision=1) for pk in sorted(owners)])


def _named(swatches, cards):
    """Each swatch on the card of the house that has its card's colour exactly."""
    for swatch in swatches:
        on = swatch["on"]
        if on.get("card"):
            continue
        for key, lab in cards:
            if all(abs(a - b) < 0.01 for a, b in zip(on["lab"], lab)):
                on["card"] = key
                break
    return swatches


def name_cards(apps, schema_editor):
    """Swatches knew their card by its colour only; the drawer's history holds swatches too."""
    Stock, Ink = apps.get_model("inks", "Stock"), apps.get_model("inks", "Ink")
    DrawerChange = apps.get_model("inks", "DrawerChange")
    for owner in Stock.objects.values_list("owner_id", flat=True).distinct():
        cards = list(Stock.objects.filter(owner_id=owner).order_by("pk").values_list("key", "lab"))
        for ink in Ink.objects.filter(owner_id=owner):
            ink.swatches = _named(ink.swatches, cards)
            ink.save(update_fields=["swatches"])
        for change in DrawerChange.objects.filter(owner_id=owner):
            for states in (change.before, change.after):
                for values in states.values():
                    if values and "swatches" in values:
                        values["swatches"] = _named(values["swatches"], cards)
            change.save(update_fields=["before", "after"])


def part_card_codes(apps, schema_editor):
    """Two swatch cards made at once could carry one code."""
    SwatchCard = apps.get_model("inks", "SwatchCard")
    used = {}
    for card in SwatchCard.objects.filter(gone=None).order_by("pk"):
        own = used.setdefault(card.owner_id, set())
        if card.code in own:
            card.code = next(n for n in range(10_000) if n not in own)
            card.save(update_fields=["code"])
        own.add(card.code)


def number_changes(apps, schema_editor):
    """An import remembers which change kept it."""
    for row in apps.get_model("inks", "InkImport").objects.exclude(change=None):
        row.change_number = row.change_id
        row.save(update_fields=["change_number"])


class Migration(migrations.Migration):
    dependencies = [
        ("inks", "0002_the_whole_drawer"),
        ("jobs", "0001_initial"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Drawer",
            fields=[
                (
                    "id",
                    models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"),
                ),
                ("revision", models.PositiveIntegerField(default=1)),
                ("token", models.CharField(default="", max_length=16)),
                (
                    "owner",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={"abstract": False},
        ),
        migrations.AddField("ink", "touched", models.JSONField(default=dict)),
        migrations.AddField("stock", "touched", models.JSONField(default=dict)),
        migrations.AddField("tool", "touched", models.JSONField(default=dict)),
        migrations.AddField("inkimport", "change_number", models.PositiveBigIntegerField(blank=True, null=True)),
        migrations.AddField(
            "inkimport",
            "job",
            models.ForeignKey(
                blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, to="jobs.job"
            ),
        ),
        migrations.AddField(
            "swatchcard",
            "job",
            models.ForeignKey(
                blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, to="jobs.job"
            ),
        ),
        migrations.AlterField("inkimport", "brought", models.JSONField(blank=True, null=True)),
        migrations.RunPython(number_drawers, migrations.RunPython.noop),
        migrations.RunPython(name_cards, migrations.RunPython.noop),
        migrations.RunPython(part_card_codes, migrations.RunPython.noop),
        migrations.RunPython(number_changes, migrations.RunPython.noop),
        migrations.AddConstraint(
            "swatchcard",
            models.UniqueConstraint(condition=models.Q(("gone", None)), fields=("owner", "code"), name="one_card_a_code"),
        ),
    ]
