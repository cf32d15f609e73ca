"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("jobs", "0001_start"),
        ("jobs", "0003_shift_findings"),
        ("jobs", "0006_place_corrections"),
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
            name="BenchWork",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("pieces", models.JSONField()),
                ("axis_cm", models.FloatField()),
                ("target", models.JSONField()),
                ("tolerances", models.JSONField()),
                ("chance", models.FloatField(default=0.95)),
                ("started_at", models.DateTimeField(auto_now_add=True)),
                ("ended_at", models.DateTimeField(null=True)),
                (
                    "stage",
                    models.CharField(
                        blank=True,
                        choices=[
                            ("fit", "fit"),
                            ("read", "read"),
                            ("trim", "trim"),
                            ("permanent", "make permanent"),
                            ("plan", "plan anew"),
                            ("measure", "measure"),
                            ("verify", "verify"),
                        ],
                        max_length=9,
                    ),
                ),
                ("events_seen", models.PositiveIntegerField(default=0)),
                ("told", models.JSONField(default=dict)),
                (
                    "plan",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="works",
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
                (
                    "started_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["-started_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="BenchEvent",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveIntegerField()),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("laid", "laid"),
                            ("left_out", "left out"),
                            ("trimmed", "trimmed"),
                            ("moved", "moved"),
                            ("taken_off", "taken off"),
                            ("permanent", "made permanent"),
                            ("read", "read"),
                            ("believed", "believed all the same"),
                        ],
                        max_length=10,
                    ),
                ),
                ("piece", models.PositiveIntegerField(null=True)),
                ("data", models.JSONField(default=dict)),
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
                (
                    "work",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="events",
                        to="bench.benchwork",
                    ),
                ),
            ],
            options={
                "ordering": ["work", "number"],
            },
        ),
        migrations.CreateModel(
            name="DensityCorrection",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("before_g_per_cm", models.FloatField()),
                ("before_u", models.FloatField()),
                ("g_per_cm", models.FloatField()),
                ("u", models.FloatField()),
                ("jobs", models.PositiveIntegerField()),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("taken_back_at", models.DateTimeField(null=True)),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "material",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="corrections",
                        to="materials.material",
                    ),
                ),
            ],
            options={
                "ordering": ["-made_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="PlaceCorrection",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("site", models.CharField(max_length=24)),
                ("offset_cm", models.FloatField()),
                ("u_cm", models.FloatField()),
                ("pieces", models.PositiveIntegerField()),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("taken_back_at", models.DateTimeField(null=True)),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="place_corrections",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["-made_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="PlaceFinding",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("piece", models.PositiveIntegerField()),
                ("site", models.CharField(max_length=24)),
                ("offset_cm", models.FloatField()),
                ("offset_u_cm", models.FloatField()),
                ("before_cm", models.FloatField(default=0.0)),
                ("u_before_cm", models.FloatField()),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "work",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="place_findings",
                        to="bench.benchwork",
                    ),
                ),
            ],
            options={
                "ordering": ["made_at", "pk"],
            },
        ),
        migrations.CreateModel(
            name="RollFinding",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("g_per_cm", models.FloatField()),
                ("u_before", models.FloatField()),
                ("factor", models.FloatField()),
                ("factor_u", models.FloatField()),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "material",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="findings",
                        to="materials.material",
                    ),
                ),
                (
                    "work",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="findings",
                        to="bench.benchwork",
                    ),
                ),
            ],
            options={
                "ordering": ["made_at", "pk"],
            },
        ),
        migrations.CreateModel(
            name="ShiftFinding",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("before", models.FloatField()),
                ("u_before", models.FloatField()),
                ("shift", models.FloatField()),
                ("shift_u", models.FloatField()),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "material",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="shift_findings",
                        to="materials.material",
                    ),
                ),
                (
                    "work",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="shift_findings",
                        to="bench.benchwork",
                    ),
                ),
            ],
            options={
                "ordering": ["made_at", "pk"],
            },
        ),
        migrations.AddConstraint(
            model_name="benchwork",
            constraint=models.UniqueConstraint(
                condition=models.Q(("ended_at", None)),
                fields=("plan",),
                name="one_work_a_plan_at_a_time",
            ),
        ),
        migrations.AddConstraint(
            model_name="benchevent",
            constraint=models.UniqueConstraint(fields=("work", "number"), name="event_once_a_work"),
        ),
        migrations.AddConstraint(
            model_name="placecorrection",
            constraint=models.UniqueConstraint(
                condition=models.Q(("taken_back_at", None)),
                fields=("shop", "site"),
                name="place_corrected_once_at_a_time",
            ),
        ),
        migrations.AddConstraint(
            model_name="placefinding",
            constraint=models.UniqueConstraint(
                fields=("work", "piece"), name="place_once_a_work_and_piece"
            ),
        ),
        migrations.AddConstraint(
            model_name="rollfinding",
            constraint=models.UniqueConstraint(
                fields=("work", "material"), name="finding_once_a_work_and_roll"
            ),
        ),
        migrations.AddConstraint(
            model_name="shiftfinding",
            constraint=models.UniqueConstraint(
                fields=("work", "material"), name="shift_once_a_work_and_material"
            ),
        ),
    ]
