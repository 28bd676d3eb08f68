"""Songs that were deleted become songs put away: by the program's own count of days, not by the clock."""

from django.db import migrations, models


def keep_those_put_away(apps, schema_editor):
    apps.get_model("song", "Song").objects.exclude(deleted_at=None).update(put_away_day=0)


class Migration(migrations.Migration):
    dependencies = [("song", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="song",
            name="put_away_day",
            field=models.PositiveIntegerField(blank=True, null=True),
        ),
        migrations.RunPython(keep_those_put_away, migrations.RunPython.noop),
        migrations.RemoveField(model_name="song", name="deleted_at"),
    ]
