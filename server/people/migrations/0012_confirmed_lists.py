from django.db import migrations, models
from django.db.models.fields.json import KeyTextTransform
from django.db.models.functions import Coalesce


def say_which_list(apps, schema_editor):
    """Confirmations of before name their list, so that conditions can count them."""
    apps.get_model("people", "Fact")._base_manager.filter(
        kind="membership", what__before="pending", what__after="subscribed", because__kind="person"
    ).update(about=Coalesce(KeyTextTransform("id", "what"), models.Value("")))


class Migration(migrations.Migration):

    dependencies = [
        ('people', '0011_told_of_a_change'),
        ('workspaces', '0003_history'),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='fact',
            name='happened',
        ),
        migrations.RunPython(say_which_list, migrations.RunPython.noop),
        migrations.AddIndex(
            model_name='fact',
            index=models.Index(condition=models.Q(('kind__in', ['submitted', 'sent', 'event']), models.Q(('about__gt', ''), ('kind', 'membership')), _connector='OR'), fields=['subscriber', 'kind', 'about', 'at'], name='happened'),
        ),
    ]
