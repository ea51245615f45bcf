from django.db import migrations, models


def fill(apps, _):
    """Let the route of what was asked before have begun when it was opened."""
    request = apps.get_model('review', 'Request')
    request.objects.update(asked_at=models.F('opened_at'))


class Migration(migrations.Migration):

    dependencies = [
        ('review', '0003_kinds_and_comments'),
    ]

    operations = [
        migrations.AddField(
            model_name='request',
            name='asked_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.RunPython(fill, migrations.RunPython.noop),
        migrations.AlterField(
            model_name='request',
            name='asked_at',
            field=models.DateTimeField(),
        ),
    ]
