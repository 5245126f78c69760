from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("sittings", "0001_initial")]

    operations = [
        migrations.AddField("timetable", "revision", models.PositiveIntegerField(default=0)),
        migrations.AddField("timetable", "mark", models.CharField(default="", max_length=32)),
    ]
