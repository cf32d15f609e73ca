"""Tables of a database from before the app had its name."""

from django.db import migrations

from kentrobar.web.kit.migrating import rename_tables


class Migration(migrations.Migration):
    dependencies = [("play", "0001_baseline")]

    operations = [
        rename_tables(
            {
                "court_hitmap": "play_hitmap",
                "court_trial": "play_trial",
                "court_trialsetup": "play_trialsetup",
                "court_trialask": "play_trialask",
                "court_shoprule": "play_shoprule",
            }
        ),
    ]
