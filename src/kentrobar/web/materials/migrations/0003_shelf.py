"""Kinds of material, what each is sold in and what is left; the form follows from the kind."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models
from django.db.models import Q

TAPES = ["lead_tape", "tungsten_tape", "copper_tape", "edge_tape"]
SINGLES = ["butt_cap", "module", "cotton", "dampener", "leather", "grip", "overgrip"]
PUTTIES = ["tungsten_putty", "removable_putty", "silicone"]
KINDS = [
    ("lead_tape", "lead tape"), ("tungsten_tape", "tungsten tape"), ("copper_tape", "copper tape"),
    ("edge_tape", "protective edge tape"), ("tungsten_putty", "tungsten putty"),
    ("removable_putty", "removable putty"), ("silicone", "silicone"),
    ("butt_cap", "heavier butt cap"), ("module", "clip-on module"), ("cotton", "cotton plug"),
    ("dampener", "dampener"), ("leather", "leather grip"), ("grip", "grip"), ("overgrip", "overgrip"),
]  # fmt: skip
HARDNESS = [
    ("soft", "soft, follows any curve"), ("bends", "bends with a little care"),
    ("stiff", "stiff, hardly bends into a channel"),
]  # fmt: skip
UNDO = [("clean", "comes off clean"), ("lasting", "stays for good"), ("trial", "for trials only")]


def find_kinds(apps, _schema_editor):
    """A material's kind from the form and the flags it had."""
    for name in ("Material", "HistoricalMaterial"):
        model = apps.get_model("materials", name)
        tape, putty = model.objects.filter(form="tape"), model.objects.filter(form="putty")
        tape.update(kind="tungsten_tape", hardness="stiff")
        tape.filter(is_metal=False).update(kind="edge_tape", hardness="soft")
        tape.filter(is_lead=True).update(kind="lead_tape", hardness="soft")
        putty.update(kind="removable_putty", hardness="soft")
        putty.filter(density_g_cm3__gt=4).update(kind="tungsten_putty")
        model.objects.filter(form="sleeve").update(kind="grip", hardness="soft", each_u_g=0.05)


def both(name, field):
    return [
        migrations.AddField("material", name, field),
        migrations.AddField("historicalmaterial", name, field),
    ]


class Migration(migrations.Migration):
    dependencies = [
        ("materials", "0002_intake"),
        ("shops", "0002_intake"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveConstraint("material", "material_has_its_weight"),
        migrations.RenameField("material", "sleeve_mass_g", "each_g"),
        migrations.RenameField("historicalmaterial", "sleeve_mass_g", "each_g"),
        *both("kind", models.CharField(max_length=15, choices=KINDS, default="grip")),
        *both("each_u_g", models.FloatField("± of weight of one, g", null=True, blank=True)),
        *both("cuts", models.JSONField("weighed cuts, cm and g", default=list, blank=True)),
        *both("hardness", models.CharField(max_length=5, choices=HARDNESS, default="soft")),
        *both("undo", models.CharField("taking off", max_length=7, choices=UNDO, default="clean")),
        *both("sold_amount", models.FloatField("amount in one package", null=True, blank=True)),
        *both(
            "price",
            models.DecimalField(
                "price of one package", max_digits=9, decimal_places=2, null=True, blank=True
            ),
        ),
        *both("left_amount", models.FloatField("amount left", null=True, blank=True)),
        *both("note", models.CharField("what to mind", max_length=200, blank=True, default="")),
        migrations.RunPython(find_kinds, migrations.RunPython.noop),
        *(
            migrations.RemoveField(model, name)
            for model in ("material", "historicalmaterial")
            for name in ("form", "is_lead", "is_metal")
        ),
        *(
            migrations.AlterField(model, name, field)
            for model in ("material", "historicalmaterial")
            for name, field in (
                ("kind", models.CharField(max_length=15, choices=KINDS)),
                ("hardness", models.CharField(max_length=5, choices=HARDNESS)),
                ("undo", models.CharField("taking off", max_length=7, choices=UNDO)),
                ("note", models.CharField("what to mind", max_length=200, blank=True)),
                (
                    "typed_density",
                    models.JSONField("weight as typed", default=dict, blank=True),
                ),
            )
        ),
        migrations.AddConstraint(
            "material",
            models.CheckConstraint(
                name="material_has_its_weight",
                condition=Q(kind__in=TAPES, g_per_cm__gt=0, g_per_cm_u__gte=0)
                | Q(kind__in=PUTTIES, density_g_cm3__gt=0)
                | Q(kind__in=SINGLES, each_g__gt=0, each_u_g__gte=0),
            ),
        ),
        migrations.AddConstraint(
            "material",
            models.CheckConstraint(
                name="material_amounts_are_real",
                condition=Q(Q(sold_amount=None) | Q(sold_amount__gt=0))
                & Q(Q(left_amount=None) | Q(left_amount__gte=0))
                & Q(Q(price=None) | Q(price__gte=0)),
            ),
        ),
        migrations.CreateModel(
            name="StockChange",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("amount", models.FloatField()),
                ("left_after", models.FloatField()),
                (
                    "why",
                    models.CharField(
                        choices=[("counted", "counted"), ("bought", "bought"), ("cut", "cut")],
                        max_length=7,
                    ),
                ),
                ("note", models.CharField(blank=True, max_length=120)),
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
                    "material",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="stock_changes",
                        to="materials.material",
                    ),
                ),
            ],
            options={"ordering": ["-made_at", "-pk"]},
        ),
    ]
