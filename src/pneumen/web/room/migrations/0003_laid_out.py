from django.db import migrations, models


def mark_what_words_laid_out(apps, schema_editor):
    """In a room that nobody drew by hand, what hangs came with its words."""
    hung = apps.get_model("room", "Covering").objects.using(schema_editor.connection.alias).exclude(on="")
    hung.filter(room__drawn=False).update(laid_out=True)


class Migration(migrations.Migration):

    dependencies = [
        ('room', '0002_names_of_materials'),
    ]

    operations = [
        migrations.AddField(
            model_name='covering',
            name='laid_out',
            field=models.BooleanField(default=False),
        ),
        migrations.RunPython(mark_what_words_laid_out, migrations.RunPython.noop),
    ]
