"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("planning", "0001_start"),
        ("planning", "0002_order_and_archive"),
        ("planning", "0003_taken_away_by_key"),
        ("planning", "0004_stated_start"),
        ("planning", "0005_start_of_older_plans"),
        ("planning", "0006_wanted"),
    ]

    initial = True

    dependencies = [
        ("frames", "0001_baseline"),
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Plan",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=80)),
                ("axis_cm", models.FloatField()),
                ("pieces", models.JSONField(default=list)),
                (
                    "wanted",
                    models.JSONField(
                        default=dict, verbose_name="bounds of the specs aimed at, and their axis"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("at", models.PositiveIntegerField(default=1)),
                ("undo_to", models.PositiveIntegerField(null=True)),
                ("redo", models.JSONField(default=list)),
                ("last_change", models.CharField(blank=True, max_length=40)),
                ("order_of_work", models.CharField(default="swing_first", max_length=14)),
                ("archived_at", models.DateTimeField(null=True)),
                ("cut_revision", models.PositiveIntegerField(null=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("changed_at", models.DateTimeField(auto_now_add=True)),
                (
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="plans",
                        to="frames.frame",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="plans",
                        to="shops.shop",
                    ),
                ),
                (
                    "specs",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="plans",
                        to="frames.specsheet",
                    ),
                ),
            ],
            options={
                "ordering": ["-changed_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="PlanRevision",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveIntegerField()),
                ("parent", models.PositiveIntegerField(null=True)),
                ("name", models.CharField(max_length=80)),
                ("axis_cm", models.FloatField()),
                ("pieces", models.JSONField()),
                ("summary", models.CharField(max_length=200)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "plan",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="revisions",
                        to="planning.plan",
                    ),
                ),
                (
                    "specs",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
            ],
            options={
                "ordering": ["plan", "number"],
                "constraints": [
                    models.UniqueConstraint(fields=("plan", "number"), name="revision_once_a_plan")
                ],
            },
        ),
    ]
