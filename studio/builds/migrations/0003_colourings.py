"""A build becomes a panel with a placed set and colourings; its one plan is the first of them."""

import django.db.models.deletion
from django.db import migrations, models

MATERIALS = ("stock", "register", "cards")
PLAIN = {"register": "jig", "cards": 1}


def _passes(plan):
    """Passes say what they lie on."""
    passes = []
    for item in plan.get("passes", []):
        on = {"thing": "image", "element": item["element"], "sheet": item["sheet"]}
        passes.append({**{k: v for k, v in item.items() if k not in ("element", "sheet")}, "on": on})
    bare = [{"thing": "image", "element": e, "sheet": s} for e, s in plan.get("bare", [])]
    return {
        "school": plan.get("school", "light first"),
        "schools": plan.get("schools", {}),
        "bare": bare,
        "passes": passes,
    }


def _materials(plan):
    return {name: plan.get(name, PLAIN.get(name)) for name in MATERIALS}


def move(apps, schema_editor):
    """Every plan of every history, with the materials of the oldest kept by the build."""
    Build, Change = apps.get_model("builds", "Build"), apps.get_model("builds", "Change")
    Colouring, PlacedSet = apps.get_model("builds", "Colouring"), apps.get_model("builds", "PlacedSet")
    Receipt = apps.get_model("history", "Receipt")
    for build in Build.objects.all():
        changes = list(Change.objects.filter(build=build).order_by("number"))
        base = _materials(changes[0].plan) if changes else dict(PLAIN, stock="")
        build.materials = base
        # not save(): it would make every build the one that was touched last
        Build.objects.filter(pk=build.pk).update(materials=base)
        PlacedSet.objects.create(build=build, layer_set_id=build.layer_set_id, set_change_id=build.set_change_id)
        first = Colouring.objects.create(
            build=build, name="First colouring", head=build.head, revision=build.revision
        )
        for change in changes:
            own = _materials(change.plan)
            differs = {k: v for k, v in own.items() if v != base[k]}
            change.colouring = first
            change.plan = {**_passes(change.plan), "materials": differs}
            change.save(update_fields=["colouring", "plan"])
            if change.edit_key:
                # a tab that was offline through the upgrade may send it again
                Receipt.objects.get_or_create(
                    owner_id=build.owner_id, scope=f"colouring:{first.pk}", edit_key=change.edit_key
                )


class Migration(migrations.Migration):
    dependencies = [
        ("builds", "0002_build_set_change"),
        ("history", "0001_initial"),
        ("sets", "0003_jobs_and_whole_numbers"),
    ]

    operations = [
        migrations.CreateModel(
            name="Colouring",
            fields=[
                (
                    "id",
                    models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"),
                ),
                ("revision", models.PositiveIntegerField(default=1)),
                ("name", models.CharField(max_length=200)),
                ("head", models.PositiveIntegerField(default=0)),
                ("created", models.DateTimeField(auto_now_add=True)),
                ("gone", models.DateTimeField(blank=True, null=True)),
                (
                    "build",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="colourings",
                        to="builds.build",
                    ),
                ),
            ],
            options={"ordering": ["pk"]},
        ),
        migrations.CreateModel(
            name="PlacedSet",
            fields=[
                (
                    "id",
                    models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"),
                ),
                ("key", models.CharField(default="image", max_length=60)),
                ("place", models.JSONField(default=dict)),
                (
                    "build",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="placed_sets",
                        to="builds.build",
                    ),
                ),
                (
                    "layer_set",
                    models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to="sets.layerset"),
                ),
                (
                    "set_change",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        to="sets.setchange",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "constraints": [models.UniqueConstraint(fields=("build", "key"), name="one_thing_a_key")],
            },
        ),
        migrations.AddField("build", "materials", models.JSONField(default=dict)),
        migrations.AddField(
            "change",
            "colouring",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="changes",
                to="builds.colouring",
            ),
        ),
        migrations.RunPython(move, migrations.RunPython.noop),
    ]
