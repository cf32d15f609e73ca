"""Plans and their states stay on the readings that they were shown on until now."""

from django.db import migrations
from django.db.models import OuterRef, Subquery


def state_starts(apps, schema_editor):
    Plan = apps.get_model("planning", "Plan")
    PlanRevision = apps.get_model("planning", "PlanRevision")
    shown_on = Plan.objects.filter(pk=OuterRef("pk")).values("frame__specs")
    Plan.objects.filter(frame__specs__isnull=False).update(specs=Subquery(shown_on))
    of_plan = Plan.objects.filter(pk=OuterRef("plan")).values("specs")
    PlanRevision.objects.filter(plan__specs__isnull=False).update(specs=Subquery(of_plan))


class Migration(migrations.Migration):
    dependencies = [("planning", "0004_stated_start")]

    operations = [migrations.RunPython(state_starts, migrations.RunPython.noop)]
