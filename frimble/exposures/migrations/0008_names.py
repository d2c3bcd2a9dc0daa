"""Models and fields under the trade's and the standard names, as docs/glossary.md lists them; no row changes."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("exposures", "0007_washouts_leave"),
        ("screens", "0004_names"),
        ("films", "0005_names"),
        ("coatings", "0005_names"),
    ]

    operations = [
        migrations.RenameModel("Trial", "TestComparison"),
        migrations.RemoveIndex(
            model_name="chartentry",
            name="exposures_c_mesh_id_1fc3e8_idx",
        ),
        migrations.RenameField("steptest", "film", "film_process"),
        migrations.RenameField("chartentry", "film", "film_process"),
        migrations.RenameField("run", "film", "film_process"),
        migrations.RenameField("exposure", "film", "film_process"),
        migrations.RenameField("run", "positive", "film"),
        migrations.RenameField("exposure", "positive", "film"),
        migrations.AddIndex(
            model_name="chartentry",
            index=models.Index(
                fields=["mesh", "emulsion", "lamp", "film_process"], name="exposures_c_mesh_id_bf9396_idx"
            ),
        ),
    ]
