"""Models and fields under the trade's and the standard names, as docs/glossary.md lists them; no row changes."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    # Last of all that name these tables as they were.
    dependencies = [
        ("screens", "0003_coating_and_drying"),
        ("coatings", "0004_coating_and_drying"),
        ("films", "0004_settings"),
        ("exposures", "0007_washouts_leave"),
        ("jobs", "0005_press_leaves"),
        ("stencils", "0001_initial"),
        ("press", "0001_initial"),
    ]

    operations = [
        migrations.RenameModel("MeshKind", "MeshType"),
        migrations.RenameModel("HistoricalMeshKind", "HistoricalMeshType"),
        migrations.RenameModel("Meshing", "MeshInstallation"),
        migrations.RenameModel("LifeEvent", "ScreenEvent"),
        migrations.RenameModel("TensionMeasuring", "TensionMeasurement"),
        migrations.RenameModel("SavedLook", "SavedSearch"),
        migrations.RemoveConstraint(model_name="meshinstallation", name="meshings_are_numbered"),
        migrations.RemoveConstraint(model_name="savedsearch", name="looks_are_named_once"),
        migrations.RemoveConstraint(
            model_name="cycle",
            name="cycles_are_numbered",
        ),
        migrations.RemoveIndex(
            model_name="screenevent",
            name="screens_lif_meshing_f34fb7_idx",
        ),
        migrations.RenameField("cycle", "meshing", "installation"),
        migrations.RenameField("screenevent", "meshing", "installation"),
        migrations.RenameField("screen", "meshing", "installation"),
        migrations.RenameField("blemish", "meshing", "installation"),
        migrations.RenameField("tensionvalue", "measuring", "measurement"),
        migrations.AlterModelOptions(
            name="historicalmeshtype",
            options={
                "get_latest_by": ("history_date", "history_id"),
                "ordering": ("-history_date", "-history_id"),
                "verbose_name": "historical mesh type",
                "verbose_name_plural": "historical mesh types",
            },
        ),
        migrations.AlterField(
            model_name="meshinstallation",
            name="frame",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="installations", to="screens.frame"
            ),
        ),
        migrations.AddIndex(
            model_name="screenevent",
            index=models.Index(fields=["installation", "at"], name="screens_scr_install_dedd93_idx"),
        ),
        migrations.AddConstraint(
            model_name="cycle",
            constraint=models.UniqueConstraint(fields=("installation", "number"), name="cycles_are_numbered"),
        ),
        migrations.AddConstraint(
            model_name="meshinstallation",
            constraint=models.UniqueConstraint(fields=("frame", "number"), name="installations_are_numbered"),
        ),
        migrations.AlterField(
            model_name="savedsearch",
            name="by",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="saved_searches", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddConstraint(
            model_name="savedsearch",
            constraint=models.UniqueConstraint(fields=("by", "name"), name="searches_are_named_once"),
        ),
    ]
