from django.db import migrations


def rename(apps, schema_editor):
    for row in apps.get_model("mail", "SendingDomain")._base_manager.all():
        row.found = [
            {("note" if name == "said" else name): value for name, value in one.items()}
            for one in row.found
        ]
        row.save(update_fields=["found"])


class Migration(migrations.Migration):
    dependencies = [("mail", "0017_one_life")]

    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
