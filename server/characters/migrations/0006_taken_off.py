from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("characters", "0005_sweeps")]
    operations = [migrations.AddField("character", "taken_off", models.DateTimeField(null=True))]
