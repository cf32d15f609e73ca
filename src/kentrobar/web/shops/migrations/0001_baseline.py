"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import datetime

import django.contrib.auth.validators
import django.contrib.postgres.fields
import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models

import kentrobar.web.shops.models


class Migration(migrations.Migration):
    replaces = [
        ("shops", "0001_start"),
        ("shops", "0002_intake"),
        ("shops", "0003_people_with_shop"),
        ("shops", "0004_further_specs"),
        ("shops", "0005_submissions"),
        ("shops", "0006_calendar_address"),
        ("shops", "0007_prices_and_hours"),
        ("shops", "0008_units_strain_ranges"),
        ("shops", "0009_rules_of_play"),
    ]

    initial = True

    dependencies = [
        ("auth", "0012_alter_user_first_name_max_length"),
    ]

    operations = [
        migrations.CreateModel(
            name="Shop",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=100)),
                (
                    "latitude_deg",
                    models.FloatField(blank=True, null=True, verbose_name="latitude, degrees"),
                ),
                (
                    "altitude_m",
                    models.FloatField(
                        blank=True, null=True, verbose_name="height above the sea, m"
                    ),
                ),
                ("felt_mass_g", models.FloatField(default=5.0, verbose_name="static weight, g")),
                ("felt_balance_cm", models.FloatField(default=0.5, verbose_name="balance, cm")),
                (
                    "felt_swingweight_kgcm2",
                    models.FloatField(default=10.0, verbose_name="swing weight, kg·cm²"),
                ),
                (
                    "felt_twistweight_kgcm2",
                    models.FloatField(default=1.0, verbose_name="twist weight, kg·cm²"),
                ),
                ("currency", models.CharField(default="€", max_length=4)),
                (
                    "price_of_an_hour",
                    models.DecimalField(
                        blank=True,
                        decimal_places=2,
                        max_digits=7,
                        null=True,
                        verbose_name="price of an hour at the bench",
                    ),
                ),
                (
                    "opens_at",
                    models.TimeField(
                        default=datetime.time(9, 0), verbose_name="the bench opens at"
                    ),
                ),
                (
                    "closes_at",
                    models.TimeField(default=datetime.time(17, 0), verbose_name="and closes at"),
                ),
                (
                    "work_days",
                    django.contrib.postgres.fields.ArrayField(
                        base_field=models.PositiveSmallIntegerField(),
                        default=kentrobar.web.shops.models.usual_days,
                        size=None,
                        verbose_name="worked at on",
                    ),
                ),
                (
                    "follow_up_after_days",
                    models.PositiveSmallIntegerField(
                        default=14, verbose_name="ask how it plays after, days"
                    ),
                ),
                (
                    "shares_frame_pages",
                    models.BooleanField(
                        default=False,
                        verbose_name="whoever scans a frame's label may read its page",
                    ),
                ),
                (
                    "usual_ranges",
                    models.JSONField(
                        blank=True,
                        default=dict,
                        verbose_name="usual ranges of specs by sport, where the shop has its own",
                    ),
                ),
                (
                    "rules_of_play",
                    models.JSONField(
                        blank=True,
                        default=dict,
                        verbose_name="when its rules were last looked at, and what was noted, by sport",
                    ),
                ),
                (
                    "calendar_secret",
                    models.CharField(
                        default=kentrobar.web.shops.models.secret_address,
                        max_length=43,
                        unique=True,
                    ),
                ),
                ("created_at", models.DateTimeField(auto_now_add=True)),
            ],
        ),
        migrations.CreateModel(
            name="User",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("password", models.CharField(max_length=128, verbose_name="password")),
                (
                    "last_login",
                    models.DateTimeField(blank=True, null=True, verbose_name="last login"),
                ),
                (
                    "is_superuser",
                    models.BooleanField(
                        default=False,
                        help_text="Designates that this user has all permissions without explicitly assigning them.",
                        verbose_name="superuser status",
                    ),
                ),
                (
                    "username",
                    models.CharField(
                        error_messages={"unique": "A user with that username already exists."},
                        help_text="Required. 150 characters or fewer. Letters, digits and @/./+/-/_ only.",
                        max_length=150,
                        unique=True,
                        validators=[django.contrib.auth.validators.UnicodeUsernameValidator()],
                        verbose_name="username",
                    ),
                ),
                (
                    "first_name",
                    models.CharField(blank=True, max_length=150, verbose_name="first name"),
                ),
                (
                    "last_name",
                    models.CharField(blank=True, max_length=150, verbose_name="last name"),
                ),
                (
                    "email",
                    models.EmailField(blank=True, max_length=254, verbose_name="email address"),
                ),
                (
                    "is_staff",
                    models.BooleanField(
                        default=False,
                        help_text="Designates whether the user can log into this admin site.",
                        verbose_name="staff status",
                    ),
                ),
                (
                    "is_active",
                    models.BooleanField(
                        default=True,
                        help_text="Designates whether this user should be treated as active. Unselect this instead of deleting accounts.",
                        verbose_name="active",
                    ),
                ),
                (
                    "date_joined",
                    models.DateTimeField(
                        default=django.utils.timezone.now, verbose_name="date joined"
                    ),
                ),
                (
                    "mass_unit",
                    models.CharField(
                        choices=[("g", "grams"), ("oz", "ounces")],
                        default="g",
                        max_length=2,
                        verbose_name="weight",
                    ),
                ),
                (
                    "length_unit",
                    models.CharField(
                        choices=[("cm", "cm"), ("mm", "mm"), ("in", "inches")],
                        default="cm",
                        max_length=2,
                        verbose_name="lengths",
                    ),
                ),
                (
                    "balance_unit",
                    models.CharField(
                        choices=[("mm", "mm"), ("cm", "cm"), ("in", "inches"), ("pt", "points")],
                        default="mm",
                        max_length=2,
                        verbose_name="balance",
                    ),
                ),
                (
                    "inertia_unit",
                    models.CharField(
                        choices=[("kg·cm²", "kg·cm²"), ("oz·in²", "oz·in²")],
                        default="kg·cm²",
                        max_length=6,
                        verbose_name="swing and twist weight",
                    ),
                ),
                (
                    "wants_percent",
                    models.BooleanField(
                        default=False,
                        verbose_name="show changes of swing and twist weight in percent for rackets too",
                    ),
                ),
                (
                    "wants_further_specs",
                    models.BooleanField(
                        default=False, verbose_name="show spin weight and MgR/I too"
                    ),
                ),
                (
                    "theme",
                    models.CharField(
                        choices=[("auto", "as the device"), ("light", "light"), ("dark", "dark")],
                        default="auto",
                        max_length=5,
                    ),
                ),
                (
                    "groups",
                    models.ManyToManyField(
                        blank=True,
                        help_text="The groups this user belongs to. A user will get all permissions granted to each of their groups.",
                        related_name="user_set",
                        related_query_name="user",
                        to="auth.group",
                        verbose_name="groups",
                    ),
                ),
                (
                    "user_permissions",
                    models.ManyToManyField(
                        blank=True,
                        help_text="Specific permissions for this user.",
                        related_name="user_set",
                        related_query_name="user",
                        to="auth.permission",
                        verbose_name="user permissions",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="people",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "verbose_name": "user",
                "verbose_name_plural": "users",
                "abstract": False,
            },
        ),
        migrations.CreateModel(
            name="Client",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=80)),
                ("notes", models.TextField(blank=True, max_length=2000)),
                (
                    "reads_in",
                    models.CharField(
                        blank=True,
                        choices=[
                            ("metric", "grams and centimetres"),
                            ("inches", "ounces and inches"),
                        ],
                        max_length=6,
                        verbose_name="reads numbers in",
                    ),
                ),
                (
                    "strain",
                    django.contrib.postgres.fields.ArrayField(
                        base_field=models.CharField(
                            choices=[
                                ("arm", "arm"),
                                ("elbow", "elbow"),
                                ("shoulder", "shoulder"),
                                ("wrist", "wrist"),
                            ],
                            max_length=8,
                        ),
                        blank=True,
                        default=list,
                        size=None,
                        verbose_name="strain that they told of",
                    ),
                ),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="clients",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["name"],
                "constraints": [
                    models.UniqueConstraint(fields=("shop", "name"), name="client_name_once_a_shop")
                ],
            },
        ),
        migrations.CreateModel(
            name="Submission",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("mark", models.CharField(max_length=64)),
                ("led_to", models.TextField()),
                ("taken_at", models.DateTimeField(auto_now_add=True)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("user", "mark"), name="submission_taken_once")
                ],
            },
        ),
    ]
