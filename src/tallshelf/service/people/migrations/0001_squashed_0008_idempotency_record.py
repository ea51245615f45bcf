"""All migrations so far in one, for a data directory that is new: it is made in half the time.

One that is older takes the steps that it lacks, one by one. A test holds both ways level.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    replaces = [
        ('people', '0001_initial'),
        ('people', '0002_kept_answers'),
        ('people', '0003_console_sessions'),
        ('people', '0004_deputy'),
        ('people', '0005_invite'),
        ('people', '0006_subject_at_the_issuer'),
        ('people', '0007_token_parents'),
        ('people', '0008_idempotency_record'),
    ]

    dependencies = [
    ]

    operations = [
        migrations.CreateModel(
            name='Person',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('password', models.CharField(max_length=128, verbose_name='password')),
                ('last_login', models.DateTimeField(blank=True, null=True, verbose_name='last login')),
                ('username', models.CharField(max_length=64, unique=True)),
                ('name', models.CharField(max_length=100)),
                ('role', models.CharField(choices=[('reader', 'Reader'), ('submitter', 'Submitter'), ('curator', 'Curator'), ('steward', 'Steward'), ('ci', 'Ci')], max_length=16)),
                ('is_active', models.BooleanField(default=True)),
                ('subject', models.CharField(blank=True, default='', max_length=255)),
            ],
            options={
                'abstract': False,
            },
        ),
        migrations.CreateModel(
            name='Team',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('slug', models.SlugField(max_length=64, unique=True)),
                ('title', models.CharField(max_length=100)),
            ],
        ),
        migrations.CreateModel(
            name='ConsoleSession',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=40, unique=True)),
                ('seal', models.CharField(default='', max_length=64)),
                ('browser', models.CharField(blank=True, max_length=200)),
                ('started_at', models.DateTimeField()),
                ('last_used_at', models.DateTimeField()),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='console_sessions', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Deputy',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('since', models.DateTimeField()),
                ('until', models.DateTimeField()),
                ('ended_at', models.DateTimeField(null=True)),
                ('deputy', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='deputy_for', to=settings.AUTH_USER_MODEL)),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='deputies', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Desk',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('slug', models.SlugField(max_length=64, unique=True)),
                ('title', models.CharField(max_length=100)),
                ('owner_team_excluded', models.BooleanField(default=True)),
                ('lead', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Invite',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('hash', models.CharField(max_length=64, unique=True)),
                ('made_at', models.DateTimeField()),
                ('expires_at', models.DateTimeField()),
                ('used_at', models.DateTimeField(null=True)),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='invites', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.AddField(
            model_name='person',
            name='teams',
            field=models.ManyToManyField(related_name='people', to='people.team'),
        ),
        migrations.CreateModel(
            name='Token',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=100)),
                ('hash', models.CharField(max_length=64, unique=True)),
                ('scopes', models.JSONField()),
                ('created_at', models.DateTimeField()),
                ('expires_at', models.DateTimeField()),
                ('last_used_at', models.DateTimeField(null=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('parent', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='children', to='people.token')),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='tokens', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='DeskSeat',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('since', models.DateTimeField()),
                ('desk', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='seats', to='people.desk')),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='seats', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('desk', 'person'), name='one_seat_each')],
            },
        ),
        migrations.CreateModel(
            name='IdempotencyRecord',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('source', models.CharField(default='', max_length=60)),
                ('key', models.CharField(max_length=200)),
                ('fingerprint', models.CharField(max_length=71)),
                ('status', models.PositiveSmallIntegerField()),
                ('body', models.TextField()),
                ('at', models.DateTimeField()),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('person', 'source', 'key'), name='one_answer_a_key')],
            },
        ),
    ]
