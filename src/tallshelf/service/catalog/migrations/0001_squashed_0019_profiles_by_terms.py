"""All migrations so far in one, for a data directory that is new: it is made in half the time.

One that is older takes the steps that it lacks, one by one. A test holds both ways level.
"""

from importlib import import_module

import django.db.models.deletion
import django.db.models.functions.comparison
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    replaces = [
        ('catalog', '0001_initial'),
        ('catalog', '0002_search_and_sunset'),
        ('catalog', '0003_full_text'),
        ('catalog', '0004_style_and_waivers'),
        ('catalog', '0005_overlaps_and_rulings'),
        ('catalog', '0006_storeditem_purged_at'),
        ('catalog', '0007_bound_exceptions'),
        ('catalog', '0008_same_meaning'),
        ('catalog', '0009_version_schemes'),
        ('catalog', '0010_changed_at'),
        ('catalog', '0011_kept_findings'),
        ('catalog', '0012_overlap_groups'),
        ('catalog', '0013_looks'),
        ('catalog', '0014_uses'),
        ('catalog', '0015_single_items'),
        ('catalog', '0016_user_notes'),
        ('catalog', '0017_kept_steps'),
        ('catalog', '0018_profiles_not_compared'),
        ('catalog', '0019_profiles_by_terms'),
    ]

    dependencies = [
        ('ledger', '0003_keyed'),
        ('people', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='SearchWord',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('word', models.CharField(max_length=40, unique=True)),
                ('padded', models.CharField(max_length=44)),
            ],
        ),
        migrations.CreateModel(
            name='ShownFindings',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('under', models.CharField(blank=True, max_length=16)),
                ('version', models.PositiveIntegerField(default=0)),
                ('next_under', models.CharField(blank=True, max_length=16)),
                ('next_version', models.PositiveIntegerField(default=0)),
            ],
        ),
        migrations.CreateModel(
            name='StoredItem',
            fields=[
                ('digest', models.CharField(max_length=71, primary_key=True, serialize=False)),
                ('kind', models.CharField(max_length=10)),
                ('name', models.TextField()),
                ('body', models.TextField()),
                ('purged_at', models.DateTimeField(null=True)),
            ],
        ),
        migrations.CreateModel(
            name='StoredSnapshot',
            fields=[
                ('digest', models.CharField(max_length=71, primary_key=True, serialize=False)),
                ('server', models.TextField()),
                ('lists', models.JSONField()),
            ],
        ),
        migrations.CreateModel(
            name='Release',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('version', models.CharField(max_length=100)),
                ('breaking', models.BooleanField(default=False)),
                ('captured', models.JSONField()),
                ('launch', models.JSONField()),
                ('digest', models.CharField(db_index=True, max_length=71)),
                ('state', models.CharField(choices=[('draft', 'draft'), ('in-review', 'in-review'), ('published', 'published'), ('deprecated', 'deprecated'), ('withdrawn', 'withdrawn'), ('declined', 'declined')], max_length=16)),
                ('origin', models.CharField(max_length=40)),
                ('desks', models.JSONField(default=list)),
                ('item_count', models.PositiveIntegerField()),
                ('tool_count', models.PositiveIntegerField()),
                ('tokens', models.PositiveIntegerField()),
                ('submitted_at', models.DateTimeField()),
                ('published_at', models.DateTimeField(null=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('end_reason', models.TextField(blank=True)),
                ('sunset_at', models.DateTimeField(null=True)),
                ('replacement', models.CharField(blank=True, max_length=170)),
                ('submitted_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='JudgedStep',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('under', models.CharField(max_length=16)),
                ('engine', models.CharField(db_index=True, max_length=16)),
                ('impact', models.CharField(max_length=10, null=True)),
                ('silent', models.PositiveIntegerField()),
                ('changes', models.PositiveIntegerField()),
                ('release', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='step', to='catalog.release')),
            ],
        ),
        migrations.CreateModel(
            name='Server',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('slug', models.CharField(max_length=64, unique=True)),
                ('title', models.CharField(max_length=120)),
                ('contact', models.CharField(max_length=200)),
                ('source_link', models.CharField(blank=True, max_length=500)),
                ('data_class', models.CharField(max_length=20)),
                ('use', models.CharField(blank=True, choices=[('', ''), ('open', 'open'), ('ask', 'ask')], default='open', max_length=4)),
                ('scheme', models.CharField(choices=[('semver', 'semver'), ('calendar', 'calendar')], default='semver', max_length=12)),
                ('tags', models.JSONField(default=list)),
                ('enrolled_at', models.DateTimeField()),
                ('changed_at', models.CharField(db_index=True, default='', max_length=40)),
                ('current', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='catalog.release')),
                ('team', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='servers', to='people.team')),
            ],
        ),
        migrations.CreateModel(
            name='SearchEntry',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(max_length=10)),
                ('identity', models.TextField(blank=True)),
                ('name', models.TextField()),
                ('words', models.TextField()),
                ('text', models.TextField()),
                ('parameters', models.TextField()),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.server')),
            ],
        ),
        migrations.AddField(
            model_name='release',
            name='server',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='releases', to='catalog.server'),
        ),
        migrations.CreateModel(
            name='OverlapGroup',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('cls', models.CharField(max_length=10)),
                ('key', models.CharField(max_length=160, unique=True)),
                ('high', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.server')),
                ('low', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.server')),
            ],
        ),
        migrations.CreateModel(
            name='FoundOverlap',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('cls', models.CharField(max_length=10)),
                ('score', models.FloatField()),
                ('pair', models.CharField(db_index=True, max_length=150)),
                ('document', models.JSONField()),
                ('group', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='overlaps', to='catalog.overlapgroup')),
                ('a', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.server')),
                ('b', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.server')),
            ],
        ),
        migrations.CreateModel(
            name='StoredRuling',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('word', models.CharField(max_length=12)),
                ('reason', models.TextField()),
                ('pairs', models.JSONField()),
                ('members', models.JSONField()),
                ('preferred', models.TextField(blank=True)),
                ('owner', models.CharField(blank=True, max_length=200)),
                ('due', models.DateField(null=True)),
                ('state', models.CharField(choices=[('proposed', 'proposed'), ('in force', 'in force'), ('declined', 'declined'), ('ended', 'ended')], max_length=12)),
                ('at', models.DateTimeField()),
                ('answered_at', models.DateTimeField(null=True)),
                ('answer_note', models.TextField(blank=True)),
                ('answered_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('base', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='catalog.release')),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('release', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='rulings', to='catalog.release')),
            ],
        ),
        migrations.AddField(
            model_name='overlapgroup',
            name='ruling',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.storedruling'),
        ),
        migrations.AddField(
            model_name='release',
            name='snapshot',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='releases', to='catalog.storedsnapshot'),
        ),
        migrations.CreateModel(
            name='StoredStyle',
            fields=[
                ('version', models.PositiveIntegerField(primary_key=True, serialize=False)),
                ('text', models.TextField()),
                ('digest', models.CharField(max_length=71)),
                ('note', models.TextField()),
                ('state', models.CharField(choices=[('proposed', 'proposed'), ('in force', 'in force'), ('declined', 'declined')], max_length=16)),
                ('replaces', models.PositiveIntegerField()),
                ('loosened', models.JSONField(default=list)),
                ('at', models.DateTimeField()),
                ('in_force_at', models.DateTimeField(null=True)),
                ('agreed_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='StoredWaiver',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('rule', models.CharField(max_length=64)),
                ('item', models.TextField()),
                ('pointer', models.TextField(null=True)),
                ('fingerprints', models.JSONField(default=list)),
                ('reason', models.TextField()),
                ('until', models.DateTimeField()),
                ('state', models.CharField(choices=[('asked', 'asked'), ('granted', 'granted'), ('refused', 'refused'), ('ended', 'ended')], max_length=16)),
                ('asked_at', models.DateTimeField()),
                ('answered_at', models.DateTimeField(null=True)),
                ('answer_note', models.TextField(blank=True)),
                ('answered_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('asked_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='waivers', to='catalog.server')),
            ],
        ),
        migrations.CreateModel(
            name='Suspension',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('item', models.TextField(blank=True)),
                ('reason', models.TextField()),
                ('at', models.DateTimeField()),
                ('lifted_at', models.DateTimeField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='suspensions', to='catalog.server')),
            ],
        ),
        migrations.CreateModel(
            name='UserNote',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('text', models.CharField(blank=True, max_length=500)),
                ('at', models.DateTimeField()),
                ('answer', models.CharField(blank=True, max_length=500)),
                ('answered_at', models.DateTimeField(null=True)),
                ('removed_at', models.DateTimeField(null=True)),
                ('answered_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('release', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='notes', to='catalog.release')),
            ],
        ),
        migrations.CreateModel(
            name='FindingCount',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('under', models.CharField(max_length=16)),
                ('rule', models.CharField(max_length=64)),
                ('family', models.CharField(max_length=20)),
                ('level', models.CharField(max_length=8)),
                ('mark', models.CharField(blank=True, max_length=8)),
                ('count', models.IntegerField()),
                ('team', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='people.team')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('under', 'team', 'rule', 'level', 'mark'), name='one_count_of_findings_each')],
            },
        ),
        migrations.CreateModel(
            name='Look',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('environment', models.CharField(max_length=40)),
                ('standing', models.CharField(choices=[('as approved', 'as approved'), ('drifted', 'drifted'), ('not reached', 'not reached')], max_length=12)),
                ('items', models.JSONField(default=list)),
                ('detail', models.CharField(blank=True, max_length=300)),
                ('snapshot', models.CharField(blank=True, max_length=71)),
                ('told', models.CharField(blank=True, max_length=71)),
                ('at', models.DateTimeField()),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('release', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.release')),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='looks', to='catalog.server')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('server', 'environment'), name='one_look_each')],
            },
        ),
        migrations.CreateModel(
            name='KnownFinding',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('fingerprint', models.CharField(max_length=71)),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='known_findings', to='catalog.server')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('server', 'fingerprint'), name='one_known_finding_each')],
            },
        ),
        migrations.CreateModel(
            name='JudgedServer',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('under', models.CharField(max_length=16)),
                ('until', models.DateTimeField(db_index=True, null=True)),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.server')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('under', 'server'), name='one_judgement_a_server')],
            },
        ),
        migrations.CreateModel(
            name='ItemDeprecation',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('item', models.TextField()),
                ('reason', models.TextField()),
                ('sunset_at', models.DateTimeField(null=True)),
                ('replacement', models.CharField(blank=True, max_length=300)),
                ('at', models.DateTimeField()),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='ending_items', to='catalog.server')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('server', 'item'), name='one_deprecation_an_item')],
            },
        ),
        migrations.CreateModel(
            name='StoredFinding',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('under', models.CharField(max_length=16)),
                ('key', models.CharField(max_length=80)),
                ('rule', models.CharField(max_length=64)),
                ('family', models.CharField(max_length=20)),
                ('level', models.CharField(max_length=8)),
                ('rank', models.PositiveSmallIntegerField()),
                ('mark', models.CharField(blank=True, max_length=8)),
                ('document', models.JSONField()),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalog.server')),
            ],
            options={
                'indexes': [models.Index(fields=['under', 'rule', 'key'], name='findings_of_a_rule'), models.Index(fields=['under', 'rank', 'key'], name='findings_of_a_level')],
                'constraints': [models.UniqueConstraint(fields=('under', 'key'), name='one_finding_a_key')],
            },
        ),
        migrations.CreateModel(
            name='StoredKnown',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('release_digest', models.CharField(max_length=71)),
                ('fingerprints', models.JSONField()),
                ('reason', models.TextField()),
                ('state', models.CharField(choices=[('proposed', 'proposed'), ('in force', 'in force'), ('declined', 'declined')], max_length=12)),
                ('at', models.DateTimeField()),
                ('answered_at', models.DateTimeField(null=True)),
                ('answer_note', models.TextField(blank=True)),
                ('answered_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('server', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='known_proposals', to='catalog.server')),
            ],
            options={
                'constraints': [models.UniqueConstraint(condition=models.Q(('state', 'proposed')), fields=('server',), name='one_known_proposal_a_server')],
            },
        ),
        migrations.CreateModel(
            name='StoredProfiles',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('snapshot', models.CharField(max_length=71)),
                ('method', models.PositiveIntegerField()),
                ('terms', models.CharField(blank=True, db_index=True, default='', max_length=16)),
                ('profiles', models.JSONField()),
                ('compared', models.BooleanField(default=False)),
                ('server', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='kept_profiles', to='catalog.server')),
            ],
            options={
                'indexes': [models.Index(condition=models.Q(('compared', False)), fields=['server'], name='profiles_not_compared')],
            },
        ),
        migrations.AddConstraint(
            model_name='release',
            constraint=models.UniqueConstraint(fields=('server', 'version'), name='one_release_a_version'),
        ),
        migrations.AddConstraint(
            model_name='storedwaiver',
            constraint=models.UniqueConstraint(models.F('server'), models.F('rule'), models.F('item'), django.db.models.functions.comparison.Coalesce('pointer', models.Value('*')), condition=models.Q(('state__in', ('asked', 'granted'))), name='one_live_waiver_a_place'),
        ),
        migrations.AddConstraint(
            model_name='suspension',
            constraint=models.UniqueConstraint(condition=models.Q(('lifted_at', None)), fields=('server', 'item'), name='one_standing_suspension'),
        ),
        migrations.AddIndex(
            model_name='usernote',
            index=models.Index(fields=['release', '-id'], name='notes_of_a_release'),
        ),
        *import_module('tallshelf.service.catalog.migrations.0003_full_text').Migration.operations,
        *import_module('tallshelf.service.catalog.migrations.0010_changed_at').Migration.operations[-1:],
    ]
