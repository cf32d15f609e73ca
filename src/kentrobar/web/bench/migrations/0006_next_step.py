"""What a work does next is named for what it is."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("bench", "0005_readings")]

    operations = [migrations.RenameField("benchwork", "told", "next_step")]
