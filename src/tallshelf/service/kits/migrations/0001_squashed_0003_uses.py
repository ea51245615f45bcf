"""All migrations so far in one, for a data directory that is new: it is made in half the time.

One that is older takes the steps that it lacks, one by one. A test holds both ways level.
"""

from importlib import import_module

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    replaces = [
        ('kits', '0001_initial'),
        ('kits', '0002_changed_at'),
        ('kits', '0003_uses'),
    ]

    dependencies = [
        ('ledger', '0003_keyed'),
        ('catalog', '0001_initial'),
        ('people', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='StoredKit',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=64, unique=True)),
                ('title', models.CharField(max_length=120)),
                ('text', models.TextField()),
                ('document', models.JSONField()),
                ('digest', models.CharField(max_length=71)),
                ('environment', models.CharField(max_length=40)),
                ('budget', models.PositiveIntegerField(null=True)),
                ('data_class', models.CharField(choices=[('public', 'public'), ('internal', 'internal'), ('confidential', 'confidential'), ('restricted', 'restricted')], max_length=20)),
                ('moves', models.CharField(choices=[('fitting', 'fitting'), ('never', 'never')], max_length=12)),
                ('put_at', models.DateTimeField()),
                ('dropped_at', models.DateTimeField(null=True)),
                ('changed_at', models.CharField(db_index=True, default='', max_length=40)),
                ('put_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('team', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='kits', to='people.team')),
            ],
        ),
        migrations.CreateModel(
            name='StoredLock',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField()),
                ('digest', models.CharField(max_length=71)),
                ('document', models.JSONField()),
                ('moves', models.JSONField()),
                ('because', models.CharField(max_length=200)),
                ('items', models.PositiveIntegerField()),
                ('tokens', models.PositiveIntegerField()),
                ('at', models.DateTimeField()),
                ('by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('kit', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='locks', to='kits.storedkit')),
            ],
        ),
        migrations.AddField(
            model_name='storedkit',
            name='lock',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='kits.storedlock'),
        ),
        migrations.CreateModel(
            name='StoredRaise',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=64)),
                ('text', models.TextField()),
                ('digest', models.CharField(max_length=71)),
                ('data_class', models.CharField(max_length=20)),
                ('state', models.CharField(choices=[('proposed', 'proposed'), ('in force', 'in force'), ('declined', 'declined')], max_length=12)),
                ('uses', models.JSONField(default=list)),
                ('reason', models.TextField()),
                ('at', models.DateTimeField()),
                ('answered_at', models.DateTimeField(null=True)),
                ('answer_note', models.TextField(blank=True)),
                ('answered_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('team', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='people.team')),
            ],
        ),
        migrations.CreateModel(
            name='HeldItem',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('item', models.TextField()),
                ('item_digest', models.CharField(max_length=71)),
                ('release', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='catalog.release')),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='catalog.server')),
                ('kit', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='held', to='kits.storedkit')),
            ],
            options={
                'indexes': [models.Index(fields=['server', 'item'], name='holders_of_an_item')],
                'constraints': [models.UniqueConstraint(fields=('kit', 'server', 'item'), name='one_hold_an_item')],
            },
        ),
        migrations.AddConstraint(
            model_name='storedlock',
            constraint=models.UniqueConstraint(fields=('kit', 'number'), name='one_lock_a_number'),
        ),
        migrations.AddConstraint(
            model_name='storedraise',
            constraint=models.UniqueConstraint(condition=models.Q(('state', 'proposed')), fields=('name',), name='one_raise_a_kit'),
        ),
        *import_module('tallshelf.service.kits.migrations.0002_changed_at').Migration.operations,
    ]
