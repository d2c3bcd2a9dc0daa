"""Models and fields under the trade's and the standard names, as docs/glossary.md lists them; no row changes."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("films", "0004_settings"), ("screens", "0004_names")]

    operations = [
        migrations.RenameModel("FilmSystem", "FilmProcess"),
        migrations.RenameModel("HistoricalFilmSystem", "HistoricalFilmProcess"),
        migrations.RenameModel("Positive", "Film"),
        migrations.RenameModel("HistoricalPositive", "HistoricalFilm"),
        migrations.RenameField("densityreading", "system", "process"),
        migrations.RenameField("film", "system", "process"),
        migrations.RenameField("historicalfilm", "system", "process"),
        migrations.RenameField("touchup", "positive", "film"),
        migrations.RenameField("scancheck", "positive", "film"),
        migrations.AlterModelOptions(
            name="historicalfilm",
            options={
                "get_latest_by": ("history_date", "history_id"),
                "ordering": ("-history_date", "-history_id"),
                "verbose_name": "historical film",
                "verbose_name_plural": "historical films",
            },
        ),
        migrations.AlterModelOptions(
            name="historicalfilmprocess",
            options={
                "get_latest_by": ("history_date", "history_id"),
                "ordering": ("-history_date", "-history_id"),
                "verbose_name": "historical film process",
                "verbose_name_plural": "historical film processs",
            },
        ),
        migrations.AlterField(
            model_name="film",
            name="process",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="films", to="films.filmprocess"
            ),
        ),
    ]
