"""What a frame was signed off against stands in one target, no longer in columns of its parts."""

from django.db import migrations

from kentrobar.web.kit.migrating import target_1


def join(apps, _editor):
    axes = dict(apps.get_model("bench", "BenchWork").objects.values_list("pk", "axis_cm"))
    for each in apps.get_model("orders", "SignOff").objects.exclude(target={}):
        each.target = target_1(each.target, each.tolerances, axes[each.work_id])
        each.save(update_fields=["target"])


class Migration(migrations.Migration):
    dependencies = [("orders", "0002_rename_tables"), ("bench", "0002_rename_tables")]

    operations = [migrations.RunPython(join, migrations.RunPython.noop)]
