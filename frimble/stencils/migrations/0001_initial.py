"""Washouts, taken over from the exposures app with their rows."""

import django.db.models.deletion
from django.db import migrations, models

_EVENT = {"on_delete": django.db.models.deletion.PROTECT, "to": "screens.lifeevent"}


class Migration(migrations.Migration):
    initial = True
    dependencies = [("exposures", "0007_washouts_leave"), ("screens", "0003_coating_and_drying")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Washout",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("soak_s", models.FloatField()),
                        ("rinse_s", models.FloatField()),
                        ("event", models.OneToOneField(related_name="washout", **_EVENT)),
                    ],
                ),
            ],
        ),
    ]
