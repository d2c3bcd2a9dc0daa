"""Models and fields under the trade's and the standard names, as docs/glossary.md lists them; no row changes."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("coatings", "0004_coating_and_drying"), ("screens", "0004_names")]

    operations = [
        migrations.RenameModel("PotRecord", "BatchRecord"),
        migrations.RenameField("batch", "pot_l", "capacity_l"),
        migrations.RenameField("historicalbatch", "pot_l", "capacity_l"),
        migrations.AlterField(
            model_name="batchrecord",
            name="run",
            field=models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="batch_records",
                to="coatings.coatingrun",
            ),
        ),
    ]
