"""Lessons become a list: what a take taught of performer and room apart, dated, undone one by one."""

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models

SAME_CHAIN_BAND_DB = 1.5
ROOM_BAND_DB = 3.0


def apart(apps, schema_editor):
    """Part each lesson into what it told of the performer and of the room; a take that taught was recorded as set."""
    Lesson, Take = apps.get_model("take", "Lesson"), apps.get_model("take", "Take")
    Take.objects.exclude(correction=None).update(recorded={})
    for lesson in Lesson.objects.select_related("take", "part__song__room"):
        if lesson.take:
            lesson.created_at, lesson.number = lesson.take.created_at, lesson.take.number
            lesson.simulated = lesson.take.simulated
            lesson.distance_m = lesson.take.snapshot.get("distance_m")
        change_db, band_db = lesson.noise_change_db, lesson.noise_band_db
        lesson.noise_change_db = None
        lesson.save()
        if change_db is None:
            continue
        room = lesson.part.song.room
        lesson.pk, lesson.what, lesson.levels = None, "noise", None
        lesson.noise_change_db = change_db
        lesson.band_db = SAME_CHAIN_BAND_DB if band_db is None else band_db
        lesson.other_chain_band_db = ROOM_BAND_DB if room.noise_band_db is None else room.noise_band_db
        lesson.absolute = lesson.absolute and abs(room.noise_change_db - change_db) < 1e-6
        lesson.save(force_insert=True)


class Migration(migrations.Migration):
    dependencies = [("take", "0002_put_away"), ("part", "0002_put_away"), ("room", "0001_initial"), ("song", "0003_enough")]

    operations = [
        migrations.AddField("take", "recorded", models.JSONField(blank=True, null=True)),
        migrations.AlterField(
            "lesson",
            "part",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="lessons", to="part.part"),
        ),
        migrations.AlterField(
            "lesson",
            "take",
            models.ForeignKey(
                blank=True,
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="lessons",
                to="take.take",
            ),
        ),
        migrations.AddField(
            "lesson",
            "what",
            models.CharField(choices=[("level", "level"), ("noise", "noise")], default="level", max_length=10),
        ),
        migrations.AddField("lesson", "number", models.PositiveIntegerField(default=0)),
        migrations.AlterField("lesson", "levels", models.JSONField(blank=True, null=True)),
        migrations.AddField("lesson", "noise_dba", models.FloatField(blank=True, null=True)),
        migrations.RenameField("lesson", "source_band_db", "other_chain_band_db"),
        migrations.AddField("lesson", "distance_m", models.FloatField(blank=True, null=True)),
        migrations.AddField("lesson", "simulated", models.BooleanField(default=False)),
        migrations.AddField("lesson", "undone", models.BooleanField(default=False)),
        migrations.AddField("lesson", "created_at", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.RunPython(apart, migrations.RunPython.noop),
        migrations.RemoveField("lesson", "noise_band_db"),
        migrations.AlterModelOptions("lesson", options={"ordering": ["-number", "-pk"]}),
        migrations.AddConstraint(
            "lesson",
            models.CheckConstraint(
                condition=models.Q(("levels__isnull", False), ("what", "level"))
                | models.Q(("noise_change_db__isnull", False), ("what", "noise")),
                name="a_lesson_holds_what_it_teaches",
            ),
        ),
    ]
