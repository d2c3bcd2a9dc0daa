from django.db import migrations

from frimble.screens.register.summaries import summarize_all


def summarize(apps, schema_editor):
    """Meshes and cycles of before are told what their records come to."""
    mesh, cycle, event = (
        apps.get_model("screens", name).objects.all() for name in ("MeshInstallation", "Cycle", "ScreenEvent")
    )
    summarize_all(mesh, cycle, event.filter(replaced_by__isnull=True).exclude(kind="taken_back"))


class Migration(migrations.Migration):

    dependencies = [
        ('screens', '0010_lives_summarized'),
    ]

    operations = [
        migrations.RunPython(summarize, migrations.RunPython.noop),
    ]
