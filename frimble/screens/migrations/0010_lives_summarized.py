from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('screens', '0009_state_counts_by_index'),
    ]

    operations = [
        migrations.AddField(
            model_name='cycle',
            name='coated_at',
            field=models.DateTimeField(db_index=True, null=True),
        ),
        migrations.AddField(
            model_name='cycle',
            name='last_min',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='cycle',
            name='lost',
            field=models.CharField(blank=True, max_length=8),
        ),
        migrations.AddField(
            model_name='cycle',
            name='lost_at',
            field=models.DateTimeField(db_index=True, null=True),
        ),
        migrations.AlterField(
            model_name='cycle',
            name='started_at',
            field=models.DateTimeField(db_index=True),
        ),
        migrations.AddField(
            model_name='meshinstallation',
            name='ended_at',
            field=models.DateTimeField(db_index=True, null=True),
        ),
    ]
