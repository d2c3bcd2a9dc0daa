"""What screens did on press, taken over from the jobs app with its rows."""

import django.db.models.deletion
from django.db import migrations, models

_EVENT = {"on_delete": django.db.models.deletion.PROTECT, "to": "screens.lifeevent"}
_ID = ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"))


class Migration(migrations.Migration):
    initial = True
    dependencies = [("jobs", "0005_press_leaves"), ("screens", "0003_coating_and_drying")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="PressReport",
                    fields=[
                        _ID,
                        ("impressions", models.PositiveIntegerField()),
                        ("event", models.OneToOneField(related_name="press_report", **_EVENT)),
                    ],
                ),
                migrations.CreateModel(
                    name="PressVisit",
                    fields=[
                        _ID,
                        ("event", models.OneToOneField(related_name="press_visit", **_EVENT)),
                        ("job", models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="visits", to="jobs.job")),
                    ],
                ),
            ],
        ),
    ]
