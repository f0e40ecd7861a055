import django.db.models.deletion
import django.db.models.manager
import server.workspaces.ids
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('workspaces', '0004_catalogue_version'),
    ]

    operations = [
        migrations.CreateModel(
            name='Cause',
            fields=[
                ('id', models.UUIDField(default=server.workspaces.ids.new_id, editable=False, primary_key=True, serialize=False)),
                ('content', models.JSONField()),
                ('workspace', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to='workspaces.workspace')),
            ],
            options={
                'abstract': False,
            },
            managers=[
                ('everywhere', django.db.models.manager.Manager()),
            ],
        ),
    ]
