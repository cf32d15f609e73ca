"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("matching", "0001_start"),
        ("matching", "0002_places_of_one_frame"),
    ]

    initial = True

    dependencies = [
        ("frames", "0001_baseline"),
        ("materials", "0001_baseline"),
        ("planning", "0001_baseline"),
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="FrameSet",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=80)),
                (
                    "build",
                    models.CharField(
                        choices=[
                            ("bare", "bare frame"),
                            ("strung", "strung, no overgrip"),
                            ("playing", "playing form"),
                        ],
                        default="playing",
                        max_length=7,
                    ),
                ),
                ("axis_cm", models.FloatField()),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("least", "least weight for all"),
                            ("fewest", "no work on the most frames"),
                            ("frame", "one of the frames"),
                            ("heaviest", "the heaviest"),
                            ("written", "a written spec"),
                            ("other", "another set"),
                        ],
                        default="least",
                        max_length=8,
                        verbose_name="target",
                    ),
                ),
                ("target", models.JSONField(default=dict)),
                ("tolerances", models.JSONField(default=dict)),
                (
                    "alike",
                    models.CharField(
                        choices=[
                            ("target", "each within it of the target"),
                            ("each_other", "all within it of each other"),
                        ],
                        default="target",
                        max_length=10,
                    ),
                ),
                ("ceiling_g", models.FloatField(blank=True, null=True)),
                ("chance", models.FloatField(default=0.95)),
                ("step_cm", models.FloatField(default=0.5)),
                ("layers", models.PositiveSmallIntegerField(default=1)),
                (
                    "places",
                    models.JSONField(
                        default=list, verbose_name="places that may be used, by key; none: all"
                    ),
                ),
                ("order_of_work", models.CharField(default="swing_first", max_length=14)),
                ("typed", models.JSONField(default=dict, verbose_name="as typed")),
                ("version", models.PositiveIntegerField(default=1)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("changed_at", models.DateTimeField(auto_now=True)),
                ("archived_at", models.DateTimeField(null=True)),
                (
                    "favourite",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.frame",
                    ),
                ),
                (
                    "other",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="matching.frameset",
                    ),
                ),
                (
                    "putty",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="materials.material",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="sets",
                        to="shops.shop",
                    ),
                ),
                (
                    "tape",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="materials.material",
                    ),
                ),
            ],
            options={
                "ordering": ["-changed_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="SetLaying",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("way", models.CharField(max_length=12)),
                ("target", models.JSONField()),
                ("tolerances", models.JSONField()),
                ("alike", models.CharField(max_length=10)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                ("plans", models.ManyToManyField(related_name="set_layings", to="planning.plan")),
                (
                    "set",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="layings",
                        to="matching.frameset",
                    ),
                ),
            ],
            options={
                "ordering": ["-made_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="SetMember",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("is_out", models.BooleanField(default=False, verbose_name="left out")),
                (
                    "places",
                    models.JSONField(default=list, verbose_name="places that may be used, by key"),
                ),
                (
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.frame",
                    ),
                ),
                (
                    "set",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="members",
                        to="matching.frameset",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
            },
        ),
        migrations.AddField(
            model_name="frameset",
            name="frames",
            field=models.ManyToManyField(
                related_name="sets", through="matching.SetMember", to="frames.frame"
            ),
        ),
        migrations.CreateModel(
            name="SetSearch",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("way", models.CharField(max_length=12)),
                ("mark", models.CharField(max_length=64)),
                (
                    "state",
                    models.CharField(
                        choices=[
                            ("waiting", "waiting for a worker"),
                            ("running", "searching"),
                            ("done", "done"),
                            ("failed", "could not be done"),
                        ],
                        default="waiting",
                        max_length=7,
                    ),
                ),
                ("attempt", models.PositiveIntegerField(default=0)),
                ("is_stopped", models.BooleanField(default=False, verbose_name="told to stop")),
                ("best_g", models.FloatField(null=True)),
                ("bound_g", models.FloatField(null=True)),
                ("result", models.JSONField(null=True)),
                ("problem", models.CharField(blank=True, max_length=300)),
                ("asked_at", models.DateTimeField(auto_now_add=True)),
                ("started_at", models.DateTimeField(null=True)),
                ("beat_at", models.DateTimeField(null=True)),
                ("ended_at", models.DateTimeField(null=True)),
                (
                    "asked_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "set",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="searches",
                        to="matching.frameset",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
            },
        ),
        migrations.AddConstraint(
            model_name="setmember",
            constraint=models.UniqueConstraint(fields=("set", "frame"), name="frame_once_a_set"),
        ),
        migrations.AddConstraint(
            model_name="setsearch",
            constraint=models.UniqueConstraint(
                fields=("set", "way", "mark"), name="search_once_a_state"
            ),
        ),
    ]
