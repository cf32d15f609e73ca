from django.db import migrations, models

import kentrobar.web.shops.models


def give_each_its_own(apps, schema_editor):
    """Every shop gets a calendar address of its own."""
    for shop in apps.get_model("shops", "Shop").objects.filter(calendar_secret=None):
        shop.calendar_secret = kentrobar.web.shops.models.secret_address()
        shop.save(update_fields=["calendar_secret"])


class Migration(migrations.Migration):
    dependencies = [
        ("shops", "0005_submissions"),
    ]

    operations = [
        migrations.AddField(
            model_name="shop",
            name="calendar_secret",
            field=models.CharField(max_length=43, null=True),
        ),
        migrations.RunPython(give_each_its_own, migrations.RunPython.noop),
        migrations.AlterField(
            model_name="shop",
            name="calendar_secret",
            field=models.CharField(
                default=kentrobar.web.shops.models.secret_address, max_length=43, unique=True
            ),
        ),
    ]
