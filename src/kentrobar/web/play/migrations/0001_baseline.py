"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import kentrobar.web.shops.models


class Migration(migrations.Migration):
    replaces = [
        ("court", "0001_hits"),
        ("court", "0002_trials"),
        ("court", "0003_shop_rules"),
    ]

    initial = True

    dependencies = [
        ("frames", "0001_baseline"),
        ("planning", "0001_baseline"),
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Trial",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("sought", models.JSONField()),
                ("held", models.JSONField(default=list)),
                ("axis_cm", models.FloatField()),
                (
                    "way",
                    models.CharField(
                        choices=[
                            ("compare", "which of two suits better"),
                            ("rate", "each by itself, 1 to 7"),
                        ],
                        default="compare",
                        max_length=7,
                    ),
                ),
                ("is_blind", models.BooleanField(default=True)),
                (
                    "secret",
                    models.CharField(
                        default=kentrobar.web.shops.models.secret_address,
                        max_length=43,
                        unique=True,
                    ),
                ),
                ("seed", models.PositiveIntegerField()),
                (
                    "missed",
                    models.JSONField(default=list, verbose_name="values that could not be reached"),
                ),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("ended_at", models.DateTimeField(null=True)),
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
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="trials",
                        to="frames.frame",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="trials",
                        to="shops.shop",
                    ),
                ),
                (
                    "specs",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
                (
                    "twin",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.frame",
                    ),
                ),
            ],
            options={
                "ordering": ["-created_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="TrialAsk",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveSmallIntegerField()),
                (
                    "purpose",
                    models.CharField(
                        choices=[
                            ("best", "for the best"),
                            ("check", "asked again"),
                            ("blank", "the same twice"),
                        ],
                        max_length=5,
                    ),
                ),
                ("first", models.PositiveSmallIntegerField()),
                ("second", models.PositiveSmallIntegerField()),
                (
                    "said",
                    models.CharField(
                        blank=True,
                        choices=[
                            ("a", "the first"),
                            ("b", "the second"),
                            ("same", "no difference"),
                        ],
                        max_length=4,
                    ),
                ),
                ("rated", models.PositiveSmallIntegerField(null=True)),
                ("answered_at", models.DateTimeField(null=True)),
                (
                    "trial",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="asks",
                        to="play.trial",
                    ),
                ),
            ],
            options={
                "ordering": ["trial", "number"],
            },
        ),
        migrations.CreateModel(
            name="TrialSetup",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveSmallIntegerField()),
                ("values", models.JSONField()),
                ("pieces", models.JSONField(default=list)),
                ("twin_pieces", models.JSONField(default=list)),
                (
                    "plan",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="planning.plan",
                    ),
                ),
                (
                    "trial",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="setups",
                        to="play.trial",
                    ),
                ),
            ],
            options={
                "ordering": ["trial", "number"],
            },
        ),
        migrations.CreateModel(
            name="HitMap",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "stroke",
                    models.CharField(
                        choices=[
                            ("ground", "Ground stroke"),
                            ("serve", "Serve"),
                            ("volley", "Volley"),
                            ("drive", "Drive"),
                            ("punch", "Punch at the net"),
                            ("dink", "Dink"),
                        ],
                        max_length=10,
                    ),
                ),
                (
                    "about",
                    models.CharField(
                        blank=True, max_length=120, verbose_name="when and how it was played"
                    ),
                ),
                ("hits", models.JSONField(default=list)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("changed_at", models.DateTimeField(auto_now=True)),
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
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="hit_maps",
                        to="frames.frame",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="hit_maps",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["-created_at", "-pk"],
                "indexes": [models.Index(fields=["shop", "frame"], name="hit_map_by_frame")],
            },
        ),
        migrations.CreateModel(
            name="ShopRule",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("key", models.CharField(max_length=40)),
                ("title", models.CharField(blank=True, max_length=80)),
                ("says", models.JSONField(default=list)),
                ("reason", models.TextField(blank=True, max_length=1000)),
                (
                    "not_where",
                    models.TextField(
                        blank=True, max_length=1000, verbose_name="where it does not hold"
                    ),
                ),
                ("is_hidden", models.BooleanField(default=False)),
                ("changed_at", models.DateTimeField(auto_now=True)),
                (
                    "changed_by",
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
                        related_name="rules",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "constraints": [
                    models.UniqueConstraint(fields=("shop", "key"), name="rule_once_a_shop")
                ],
            },
        ),
        migrations.AddIndex(
            model_name="trial",
            index=models.Index(fields=["shop", "frame"], name="trial_by_frame"),
        ),
        migrations.AddConstraint(
            model_name="trialask",
            constraint=models.UniqueConstraint(fields=("trial", "number"), name="ask_once_a_trial"),
        ),
        migrations.AddConstraint(
            model_name="trialask",
            constraint=models.CheckConstraint(
                condition=models.Q(("rated", None), ("rated__range", (1, 7)), _connector="OR"),
                name="rated_1_to_7",
            ),
        ),
        migrations.AddConstraint(
            model_name="trialsetup",
            constraint=models.UniqueConstraint(
                fields=("trial", "number"), name="setup_once_a_trial"
            ),
        ),
    ]
