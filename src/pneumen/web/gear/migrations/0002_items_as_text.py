"""An item of the catalogue is read into the core's own value: its JSON stays as it stood."""

from django.db import migrations

import pneumen.web.gear.columns


class Migration(migrations.Migration):
    dependencies = [("gear", "0001_initial")]

    operations = [
        migrations.RenameField("gearmark", "data", "item"),
        migrations.AlterField("gearmark", "item", pneumen.web.gear.columns.ItemField(blank=True, null=True)),
    ]
