"""Photos are held against their films behind the page; those that there are, are done."""

from django.db import migrations, models

_STATES = [
    ("waiting", "waiting"),
    ("running", "being worked out"),
    ("done", "worked out"),
    ("refused", "refused"),
    ("failed", "broken off"),
]


def _field(name, field):
    return migrations.AddField("stencilphoto", name, field)


def _altered(name, field):
    return migrations.AlterField("stencilphoto", name, field)


class Migration(migrations.Migration):
    dependencies = [("stencils", "0007_proofs")]

    operations = [
        _field("doing", models.CharField(blank=True, max_length=60)),
        _field("refusal", models.CharField(blank=True, max_length=400)),
        _field("share_done", models.FloatField(default=1)),
        _field("state", models.CharField(choices=_STATES, default="done", max_length=8)),
        _field("tries", models.PositiveSmallIntegerField(default=0)),
        _altered("share_done", models.FloatField(default=0)),
        _altered("state", models.CharField(choices=_STATES, default="waiting", max_length=8)),
        _altered("result", models.JSONField(blank=True, null=True)),
    ]
