from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("services", "0003_answers_kept")]

    operations = [
        migrations.RenameField("handoff", "said", "outcome"),
        migrations.RenameField("heard", "said", "outcome"),
    ]
