"""What a plan is to bring its frame within is told as a target."""

from django.db import migrations


def tell(apps, _editor):
    for each in apps.get_model("planning", "Plan").objects.exclude(wanted={}):
        each.wanted = {
            "v": 1,
            "bands": each.wanted["bounds"],
            "axis_cm": each.wanted["axis_cm"],
            "setup": "",
            "alike": "target",
            "chance": 0.95,
            "is_free": False,
            "ceiling_g": None,
            "kept": [],
        }
        each.save(update_fields=["wanted"])


class Migration(migrations.Migration):
    dependencies = [("planning", "0001_baseline")]

    operations = [migrations.RunPython(tell, migrations.RunPython.noop)]
