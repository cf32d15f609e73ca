"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("jobs", "0002_jobs"),
        ("jobs", "0004_moves_and_places"),
        ("jobs", "0005_other_sheet"),
    ]

    initial = True

    dependencies = [
        ("bench", "0001_baseline"),
        ("frames", "0001_baseline"),
        ("matching", "0001_baseline"),
        ("planning", "0001_baseline"),
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="FramePage",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("token", models.CharField(max_length=43, unique=True)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "frame",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="label_page",
                        to="frames.frame",
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="HistoricalJob",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveIntegerField()),
                ("wish", models.CharField(max_length=200, verbose_name="what is to be done")),
                ("notes", models.TextField(blank=True, max_length=4000)),
                (
                    "promised_on",
                    models.DateField(blank=True, null=True, verbose_name="promised for"),
                ),
                (
                    "bench_on",
                    models.DateField(blank=True, null=True, verbose_name="at the bench on"),
                ),
                ("bench_order", models.PositiveSmallIntegerField(default=0)),
                (
                    "minutes",
                    models.PositiveSmallIntegerField(
                        blank=True, null=True, verbose_name="minutes at the bench"
                    ),
                ),
                ("waiting_for", models.CharField(blank=True, max_length=120)),
                (
                    "price_material",
                    models.DecimalField(blank=True, decimal_places=2, max_digits=9, null=True),
                ),
                (
                    "price_time",
                    models.DecimalField(blank=True, decimal_places=2, max_digits=9, null=True),
                ),
                (
                    "told_at",
                    models.DateTimeField(null=True, verbose_name="client told that it is ready"),
                ),
                ("handed_over_at", models.DateTimeField(null=True)),
                (
                    "follow_up_on",
                    models.DateField(blank=True, null=True, verbose_name="ask how it plays on"),
                ),
                ("followed_up_at", models.DateTimeField(null=True)),
                ("called_off_at", models.DateTimeField(null=True)),
                ("created_at", models.DateTimeField(blank=True, editable=False)),
                ("changed_at", models.DateTimeField(blank=True, editable=False)),
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
                    "client",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="shops.client",
                    ),
                ),
                (
                    "created_by",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "handed_over_by",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
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
                    "set",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="matching.frameset",
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
                "verbose_name": "historical job",
                "verbose_name_plural": "historical jobs",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Job",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveIntegerField()),
                ("wish", models.CharField(max_length=200, verbose_name="what is to be done")),
                ("notes", models.TextField(blank=True, max_length=4000)),
                (
                    "promised_on",
                    models.DateField(blank=True, null=True, verbose_name="promised for"),
                ),
                (
                    "bench_on",
                    models.DateField(blank=True, null=True, verbose_name="at the bench on"),
                ),
                ("bench_order", models.PositiveSmallIntegerField(default=0)),
                (
                    "minutes",
                    models.PositiveSmallIntegerField(
                        blank=True, null=True, verbose_name="minutes at the bench"
                    ),
                ),
                ("waiting_for", models.CharField(blank=True, max_length=120)),
                (
                    "price_material",
                    models.DecimalField(blank=True, decimal_places=2, max_digits=9, null=True),
                ),
                (
                    "price_time",
                    models.DecimalField(blank=True, decimal_places=2, max_digits=9, null=True),
                ),
                (
                    "told_at",
                    models.DateTimeField(null=True, verbose_name="client told that it is ready"),
                ),
                ("handed_over_at", models.DateTimeField(null=True)),
                (
                    "follow_up_on",
                    models.DateField(blank=True, null=True, verbose_name="ask how it plays on"),
                ),
                ("followed_up_at", models.DateTimeField(null=True)),
                ("called_off_at", models.DateTimeField(null=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("changed_at", models.DateTimeField(auto_now=True)),
                (
                    "client",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="jobs",
                        to="shops.client",
                    ),
                ),
                (
                    "created_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "handed_over_by",
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
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="jobs",
                        to="matching.frameset",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="jobs",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["-number"],
            },
        ),
        migrations.CreateModel(
            name="JobFrame",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="job_members",
                        to="frames.frame",
                    ),
                ),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="members",
                        to="orders.job",
                    ),
                ),
                (
                    "plan",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="planning.plan",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
            },
        ),
        migrations.CreateModel(
            name="JobPhoto",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("image", models.BinaryField()),
                ("width", models.PositiveSmallIntegerField()),
                ("height", models.PositiveSmallIntegerField()),
                ("caption", models.CharField(blank=True, max_length=120)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="photos",
                        to="orders.job",
                    ),
                ),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
            },
        ),
        migrations.CreateModel(
            name="PlayTest",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("words", models.TextField(blank=True, max_length=2000)),
                ("ratings", models.JSONField(default=dict)),
                (
                    "alike",
                    models.CharField(
                        blank=True,
                        choices=[("same", "the same"), ("different", "different")],
                        max_length=9,
                    ),
                ),
                ("is_blind", models.BooleanField(default=False)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "before",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
                (
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="play_tests",
                        to="frames.frame",
                    ),
                ),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="play_tests",
                        to="orders.job",
                    ),
                ),
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
                    "other",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.frame",
                    ),
                ),
                (
                    "other_sheet",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
                (
                    "sheet",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
            ],
            options={
                "ordering": ["-made_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="SignOff",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("target", models.JSONField(default=dict)),
                ("tolerances", models.JSONField(default=dict)),
                ("chance", models.FloatField(null=True)),
                ("laid", models.JSONField(default=list)),
                ("remark", models.CharField(blank=True, max_length=200)),
                ("signed_as", models.CharField(max_length=80)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "before",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
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
                    "member",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="sign_offs",
                        to="orders.jobframe",
                    ),
                ),
                (
                    "sheet",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
                (
                    "work",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="sign_offs",
                        to="bench.benchwork",
                    ),
                ),
            ],
            options={
                "ordering": ["-made_at", "-pk"],
            },
        ),
        migrations.AddIndex(
            model_name="job",
            index=models.Index(
                condition=models.Q(("called_off_at", None), ("handed_over_at", None)),
                fields=["shop", "promised_on"],
                name="job_open",
            ),
        ),
        migrations.AddIndex(
            model_name="job",
            index=models.Index(
                condition=models.Q(("called_off_at", None), ("followed_up_at", None)),
                fields=["shop", "follow_up_on"],
                name="job_to_follow_up",
            ),
        ),
        migrations.AddConstraint(
            model_name="job",
            constraint=models.UniqueConstraint(
                fields=("shop", "number"), name="job_number_once_a_shop"
            ),
        ),
        migrations.AddConstraint(
            model_name="jobframe",
            constraint=models.UniqueConstraint(fields=("job", "frame"), name="frame_once_a_job"),
        ),
    ]
