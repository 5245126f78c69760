from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('builds', '0005_one_clock'),
    ]

    operations = [
        migrations.AddField(
            model_name='build',
            name='outline',
            field=models.BooleanField(default=False),
        ),
    ]
