"""What screens did on press becomes the press app's; the tables keep their rows."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("jobs", "0004_coating_and_drying")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.AlterModelTable("PressVisit", "press_pressvisit"),
                migrations.AlterModelTable("PressReport", "press_pressreport"),
            ],
            state_operations=[migrations.DeleteModel("PressVisit"), migrations.DeleteModel("PressReport")],
        ),
    ]
