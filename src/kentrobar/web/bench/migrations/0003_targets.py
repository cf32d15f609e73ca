"""What a work is to come to stands in one target, no longer in columns of its parts."""

from django.db import migrations

from kentrobar.web.kit.migrating import target_1


def join(apps, _editor):
    for each in apps.get_model("bench", "BenchWork").objects.all():
        each.target = target_1(each.target, each.tolerances, each.axis_cm, chance=each.chance)
        each.save(update_fields=["target"])


class Migration(migrations.Migration):
    dependencies = [("bench", "0002_rename_tables")]

    operations = [migrations.RunPython(join, migrations.RunPython.noop)]
