"""Washouts become the stencils app's; the table keeps its rows."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("exposures", "0006_marks_of_a_strip")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[migrations.AlterModelTable("Washout", "stencils_washout")],
            state_operations=[migrations.DeleteModel("Washout")],
        ),
    ]
