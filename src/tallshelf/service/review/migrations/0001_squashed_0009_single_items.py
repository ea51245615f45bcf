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
        ('review', '0001_initial'),
        ('review', '0002_routing_versions'),
        ('review', '0003_kinds_and_comments'),
        ('review', '0004_asked_at'),
        ('review', '0005_moved_and_despite'),
        ('review', '0006_version_schemes'),
        ('review', '0007_changed_at'),
        ('review', '0008_uses'),
        ('review', '0009_single_items'),
    ]

    dependencies = [
        ('ledger', '0003_keyed'),
        ('catalog', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='StoredAssessment',
            fields=[
                ('digest', models.CharField(max_length=71, primary_key=True, serialize=False)),
                ('document', models.JSONField()),
                ('at', models.DateTimeField()),
            ],
        ),
        migrations.CreateModel(
            name='StoredRuleSet',
            fields=[
                ('version', models.PositiveIntegerField(primary_key=True, serialize=False)),
                ('text', models.TextField(blank=True)),
                ('rules', models.JSONField()),
                ('digest', models.CharField(max_length=71)),
                ('note', models.TextField(blank=True)),
                ('state', models.CharField(choices=[('proposed', 'proposed'), ('in force', 'in force'), ('declined', 'declined')], default='in force', max_length=16)),
                ('replaces', models.PositiveIntegerField(default=0)),
                ('loosened', models.JSONField(default=list)),
                ('at', models.DateTimeField()),
                ('by', models.CharField(max_length=64)),
                ('agreed_by', models.CharField(blank=True, max_length=64)),
                ('in_force_at', models.DateTimeField(null=True)),
            ],
        ),
        migrations.CreateModel(
            name='Request',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('publish', 'publish'), ('deprecate', 'deprecate'), ('deprecate-item', 'deprecate-item'), ('withdraw', 'withdraw'), ('lift', 'lift'), ('data-class', 'data-class'), ('version-scheme', 'version-scheme'), ('use', 'use')], default='publish', max_length=16)),
                ('item', models.TextField(blank=True, default='')),
                ('terms', models.JSONField(default=dict)),
                ('desks', models.JSONField(default=list)),
                ('state', models.CharField(choices=[('open', 'open'), ('sent-back', 'sent-back'), ('agreed', 'agreed'), ('done', 'done'), ('declined', 'declined'), ('taken-back', 'taken-back')], max_length=16)),
                ('release_digest', models.CharField(max_length=71)),
                ('route', models.JSONField()),
                ('note', models.TextField(blank=True)),
                ('moved', models.JSONField(default=list)),
                ('opened_at', models.DateTimeField()),
                ('asked_at', models.DateTimeField()),
                ('closed_at', models.DateTimeField(null=True)),
                ('taken_at', models.DateTimeField(null=True)),
                ('changed_at', models.CharField(db_index=True, default='', max_length=40)),
                ('opened_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('release', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='requests', to='catalog.release')),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='requests', to='catalog.server')),
                ('suspension', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='requests', to='catalog.suspension')),
                ('taken_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('assessment', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='review.storedassessment')),
                ('rule_set', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='review.storedruleset')),
            ],
        ),
        migrations.CreateModel(
            name='Comment',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('remark', 'remark'), ('question', 'question'), ('objection', 'objection'), ('answer', 'answer')], max_length=16)),
                ('item', models.TextField(blank=True)),
                ('pointer', models.TextField(blank=True)),
                ('quoted', models.TextField(blank=True)),
                ('text', models.TextField()),
                ('at', models.DateTimeField()),
                ('settled_at', models.DateTimeField(null=True)),
                ('answers', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='replies', to='review.comment')),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('request', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='comments', to='review.request')),
            ],
        ),
        migrations.CreateModel(
            name='SignOff',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('desk', models.CharField(max_length=64)),
                ('answer', models.CharField(max_length=16)),
                ('note', models.TextField(blank=True)),
                ('despite', models.JSONField(default=list)),
                ('release_digest', models.CharField(max_length=71)),
                ('assessment_digest', models.CharField(max_length=71)),
                ('rule_set', models.PositiveIntegerField()),
                ('at', models.DateTimeField()),
                ('voided_at', models.DateTimeField(null=True)),
                ('deputy_for', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('request', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='sign_offs', to='review.request')),
            ],
        ),
        migrations.CreateModel(
            name='FollowUp',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('text', models.TextField()),
                ('due', models.DateField()),
                ('closed_at', models.DateTimeField(null=True)),
                ('closing_note', models.TextField(blank=True)),
                ('closed_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('sign_off', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='follow_ups', to='review.signoff')),
            ],
        ),
        migrations.CreateModel(
            name='Nudge',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('desk', models.CharField(max_length=64)),
                ('stage', models.CharField(choices=[('reminded', 'reminded'), ('risen', 'risen')], max_length=16)),
                ('round', models.DateTimeField()),
                ('at', models.DateTimeField()),
                ('request', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='nudges', to='review.request')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('request', 'desk', 'stage', 'round'), name='one_nudge_each')],
            },
        ),
        migrations.AddConstraint(
            model_name='signoff',
            constraint=models.UniqueConstraint(condition=models.Q(('voided_at', None)), fields=('request', 'person'), name='one_person_counts_once'),
        ),
        migrations.AddConstraint(
            model_name='request',
            constraint=models.UniqueConstraint(condition=models.Q(('kind__in', ('publish', 'deprecate', 'withdraw')), ('state__in', ('open', 'sent-back', 'agreed'))), fields=('release',), name='one_live_request_a_release'),
        ),
        migrations.AddConstraint(
            model_name='request',
            constraint=models.UniqueConstraint(condition=models.Q(('kind', 'lift'), ('state__in', ('open', 'sent-back', 'agreed'))), fields=('suspension',), name='one_live_request_a_suspension'),
        ),
        migrations.AddConstraint(
            model_name='request',
            constraint=models.UniqueConstraint(condition=models.Q(('kind', 'data-class'), ('state__in', ('open', 'sent-back', 'agreed'))), fields=('server',), name='one_live_request_a_data_class'),
        ),
        migrations.AddConstraint(
            model_name='request',
            constraint=models.UniqueConstraint(condition=models.Q(('kind', 'version-scheme'), ('state__in', ('open', 'sent-back', 'agreed'))), fields=('server',), name='one_live_request_a_scheme'),
        ),
        *import_module('tallshelf.service.review.migrations.0007_changed_at').Migration.operations[-1:],
    ]
