"""All migrations so far in one, for a data directory that is new: it is made in half the time.

One that is older takes the steps that it lacks, one by one. A test holds both ways level.
"""

from importlib import import_module

from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    replaces = [
        ('ledger', '0001_initial'),
        ('ledger', '0002_append_only'),
        ('ledger', '0003_keyed'),
    ]

    dependencies = [
    ]

    operations = [
        migrations.CreateModel(
            name='Entry',
            fields=[
                ('number', models.PositiveBigIntegerField(primary_key=True, serialize=False)),
                ('at', models.CharField(max_length=40)),
                ('event', models.CharField(max_length=40)),
                ('actor', models.CharField(max_length=64)),
                ('via', models.CharField(max_length=100)),
                ('subject', models.CharField(db_index=True, max_length=140)),
                ('body', models.TextField()),
                ('previous', models.CharField(max_length=71)),
                ('hash', models.CharField(max_length=71, unique=True)),
                ('subjects', models.TextField(null=True)),
                ('mac', models.CharField(max_length=64, null=True)),
            ],
        ),
        *import_module('tallshelf.service.ledger.migrations.0002_append_only').Migration.operations,
        *import_module('tallshelf.service.ledger.migrations.0003_keyed').Migration.operations[-1:],
    ]
