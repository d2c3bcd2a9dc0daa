"""Models and fields under the trade's and the standard names, as docs/glossary.md lists them; no row changes."""

from django.db import migrations

_KEYS = {"emulsion.most_pot_l": "emulsion.most_container_l"}


def _rename_keys(apps, schema_editor):
    """Settings that the shop has changed go on under their new keys."""
    for model in ("HouseSetting", "HistoricalHouseSetting"):
        for old, new in _KEYS.items():
            apps.get_model("people", model).objects.filter(key=old).update(key=new)


class Migration(migrations.Migration):
    dependencies = [("people", "0001_initial")]

    operations = [
        migrations.RenameModel("HouseStandard", "HouseSetting"),
        migrations.RenameModel("HistoricalHouseStandard", "HistoricalHouseSetting"),
        migrations.RunPython(_rename_keys, migrations.RunPython.noop),
        migrations.AlterModelOptions(
            name="historicalhousesetting",
            options={
                "get_latest_by": ("history_date", "history_id"),
                "ordering": ("-history_date", "-history_id"),
                "verbose_name": "historical house setting",
                "verbose_name_plural": "historical house settings",
            },
        ),
    ]
