"""Reports under the hash of what they depend on. Those kept by revision are measured anew when they are next asked for."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("characters", "0002_checkin_report")]

    operations = [
        migrations.DeleteModel("PoseReport"),
        migrations.DeleteModel("CheckInReport"),
        migrations.CreateModel(
            name="Report",
            fields=[
                ("key", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("data", models.JSONField()),
            ],
        ),
    ]
