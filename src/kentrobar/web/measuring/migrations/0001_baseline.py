"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
import django.utils.timezone
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("measuring", "0001_intake"),
        ("measuring", "0002_readings_as_rows"),
        ("measuring", "0003_stiffness_and_edge"),
    ]

    initial = True

    dependencies = [
        ("frames", "0001_baseline"),
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="HistoricalInstrument",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("scale", "scale"),
                            ("board", "balance board"),
                            ("edge", "table edge or pencil"),
                            ("machine", "swing-weight machine"),
                            ("twist", "twist machine"),
                            ("pendulum", "pendulum"),
                            ("sideways", "twist pendulum"),
                            ("cords", "two cords"),
                        ],
                        max_length=8,
                    ),
                ),
                ("name", models.CharField(max_length=60)),
                ("resolution", models.FloatField(verbose_name="smallest step")),
                ("repeatability", models.FloatField(verbose_name="scatter of one reading")),
                (
                    "offset_cm",
                    models.FloatField(
                        default=0.0, verbose_name="board's stop or edge to the pivot's zero, cm"
                    ),
                ),
                (
                    "axis_cm",
                    models.FloatField(default=10.0, verbose_name="swing axis from the butt, cm"),
                ),
                (
                    "holder_mass_g",
                    models.FloatField(default=0.0, verbose_name="holder's weight, g"),
                ),
                (
                    "holder_centre_cm",
                    models.FloatField(
                        default=0.0, verbose_name="holder's centre from the axle, cm"
                    ),
                ),
                (
                    "holder_inertia_kgcm2",
                    models.FloatField(
                        default=0.0, verbose_name="holder's inertia about the axle, kg·cm²"
                    ),
                ),
                (
                    "hang_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="axle or string from the butt, cm"
                    ),
                ),
                (
                    "drop_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="long axis below its line, cm"
                    ),
                ),
                (
                    "cord_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="length of the cords, cm"
                    ),
                ),
                (
                    "apart_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="distance of the cords, cm"
                    ),
                ),
                (
                    "due_after_days",
                    models.PositiveSmallIntegerField(
                        default=180, verbose_name="calibrate every, days"
                    ),
                ),
                ("address", models.CharField(blank=True, max_length=120)),
                (
                    "pattern",
                    models.CharField(
                        default="(?P<value>[-+]?\\d+(?:[.,]\\d+)?)\\s*(?P<unit>[a-zµ·²2]+)?.*?(?P<settled>settled)?$",
                        max_length=200,
                        verbose_name="line pattern",
                    ),
                ),
                ("baud", models.PositiveIntegerField(default=9600, verbose_name="speed, baud")),
                ("is_simulated", models.BooleanField(default=False)),
                ("is_put_away", models.BooleanField(default=False, verbose_name="put away")),
                ("history_id", models.AutoField(primary_key=True, serialize=False)),
                ("history_date", models.DateTimeField(db_index=True)),
                ("history_change_reason", models.CharField(max_length=100, null=True)),
                (
                    "history_type",
                    models.CharField(
                        choices=[("+", "Created"), ("~", "Changed"), ("-", "Deleted")], max_length=1
                    ),
                ),
                (
                    "history_user",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical instrument",
                "verbose_name_plural": "historical instruments",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Instrument",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("scale", "scale"),
                            ("board", "balance board"),
                            ("edge", "table edge or pencil"),
                            ("machine", "swing-weight machine"),
                            ("twist", "twist machine"),
                            ("pendulum", "pendulum"),
                            ("sideways", "twist pendulum"),
                            ("cords", "two cords"),
                        ],
                        max_length=8,
                    ),
                ),
                ("name", models.CharField(max_length=60)),
                ("resolution", models.FloatField(verbose_name="smallest step")),
                ("repeatability", models.FloatField(verbose_name="scatter of one reading")),
                (
                    "offset_cm",
                    models.FloatField(
                        default=0.0, verbose_name="board's stop or edge to the pivot's zero, cm"
                    ),
                ),
                (
                    "axis_cm",
                    models.FloatField(default=10.0, verbose_name="swing axis from the butt, cm"),
                ),
                (
                    "holder_mass_g",
                    models.FloatField(default=0.0, verbose_name="holder's weight, g"),
                ),
                (
                    "holder_centre_cm",
                    models.FloatField(
                        default=0.0, verbose_name="holder's centre from the axle, cm"
                    ),
                ),
                (
                    "holder_inertia_kgcm2",
                    models.FloatField(
                        default=0.0, verbose_name="holder's inertia about the axle, kg·cm²"
                    ),
                ),
                (
                    "hang_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="axle or string from the butt, cm"
                    ),
                ),
                (
                    "drop_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="long axis below its line, cm"
                    ),
                ),
                (
                    "cord_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="length of the cords, cm"
                    ),
                ),
                (
                    "apart_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="distance of the cords, cm"
                    ),
                ),
                (
                    "due_after_days",
                    models.PositiveSmallIntegerField(
                        default=180, verbose_name="calibrate every, days"
                    ),
                ),
                ("address", models.CharField(blank=True, max_length=120)),
                (
                    "pattern",
                    models.CharField(
                        default="(?P<value>[-+]?\\d+(?:[.,]\\d+)?)\\s*(?P<unit>[a-zµ·²2]+)?.*?(?P<settled>settled)?$",
                        max_length=200,
                        verbose_name="line pattern",
                    ),
                ),
                ("baud", models.PositiveIntegerField(default=9600, verbose_name="speed, baud")),
                ("is_simulated", models.BooleanField(default=False)),
                ("is_put_away", models.BooleanField(default=False, verbose_name="put away")),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="instruments",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
            },
        ),
        migrations.CreateModel(
            name="Calibration",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("scale", models.FloatField()),
                ("zero", models.FloatField()),
                ("scale_variance", models.FloatField()),
                ("zero_variance", models.FloatField()),
                ("covariance", models.FloatField()),
                ("known", models.JSONField(default=list, verbose_name="known bodies as typed")),
                ("taken_at", models.DateTimeField(default=django.utils.timezone.now)),
                (
                    "taken_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "instrument",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="calibrations",
                        to="measuring.instrument",
                    ),
                ),
            ],
            options={
                "ordering": ["-taken_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="Reading",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "spec",
                    models.CharField(
                        choices=[
                            ("mass", "static weight"),
                            ("balance", "balance"),
                            ("swingweight", "swing weight"),
                            ("twistweight", "twist weight"),
                        ],
                        max_length=11,
                    ),
                ),
                ("number", models.PositiveSmallIntegerField(verbose_name="which in its row")),
                ("text", models.CharField(max_length=60, verbose_name="as typed or sent")),
                ("unit", models.CharField(max_length=6)),
                ("value", models.FloatField(verbose_name="in the base unit, calibrated")),
                ("left_out", models.BooleanField(default=False)),
                ("detail", models.JSONField(default=dict, verbose_name="how it was taken")),
                (
                    "instrument",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        to="measuring.instrument",
                    ),
                ),
                (
                    "sheet",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="readings",
                        to="frames.specsheet",
                    ),
                ),
            ],
            options={
                "ordering": ["sheet", "spec", "number"],
            },
        ),
        migrations.CreateModel(
            name="Stiffness",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "of",
                    models.CharField(
                        choices=[("frame", "frame"), ("strings", "string bed")],
                        default="frame",
                        max_length=7,
                    ),
                ),
                ("value", models.FloatField()),
                (
                    "scale",
                    models.CharField(
                        blank=True, max_length=40, verbose_name="read with, and its unit"
                    ),
                ),
                ("taken_at", models.DateTimeField(default=django.utils.timezone.now)),
                (
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="stiffness_readings",
                        to="frames.frame",
                    ),
                ),
                (
                    "taken_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["-taken_at", "-pk"],
            },
        ),
        migrations.AddConstraint(
            model_name="instrument",
            constraint=models.UniqueConstraint(
                fields=("shop", "name"), name="instrument_name_once_a_shop"
            ),
        ),
        migrations.AddConstraint(
            model_name="instrument",
            constraint=models.CheckConstraint(
                condition=models.Q(("repeatability__gt", 0), ("resolution__gte", 0)),
                name="instrument_has_its_steps",
            ),
        ),
        migrations.AddConstraint(
            model_name="calibration",
            constraint=models.CheckConstraint(
                condition=models.Q(("scale__gt", 0)), name="calibration_scale_is_sound"
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.UniqueConstraint(
                fields=("sheet", "spec", "number"), name="reading_number_once_a_row"
            ),
        ),
        migrations.AddConstraint(
            model_name="stiffness",
            constraint=models.CheckConstraint(
                condition=models.Q(("value__gt", 0)), name="stiffness_is_above_0"
            ),
        ),
    ]
