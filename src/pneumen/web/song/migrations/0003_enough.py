"""What is enough replaces how near the best is near enough: the one tells decibels, the other chased what nobody hears."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("song", "0002_put_away")]

    operations = [
        migrations.RemoveConstraint(model_name="song", name="good_enough_in_range"),
        migrations.RemoveField(model_name="song", name="good_enough_db"),
        migrations.AddField(model_name="song", name="enough_clean_db", field=models.FloatField(default=50.0)),
        migrations.AddConstraint(
            model_name="song",
            constraint=models.CheckConstraint(
                condition=models.Q(("enough_clean_db__gte", 0), ("enough_clean_db__lte", 140)), name="enough_in_range"
            ),
        ),
    ]
