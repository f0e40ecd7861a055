from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("webhooks", "0001_initial")]

    operations = [migrations.RenameField("call", "said", "outcome")]
