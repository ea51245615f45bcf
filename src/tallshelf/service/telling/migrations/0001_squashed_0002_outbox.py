"""All migrations so far in one, for a data directory that is new: it is made in half the time.

One that is older takes the steps that it lacks, one by one. A test holds both ways level.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    replaces = [
        ('telling', '0001_initial'),
        ('telling', '0002_outbox'),
    ]

    dependencies = [
        ('people', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='MailAddress',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('address', models.EmailField(blank=True, max_length=254)),
                ('how', models.CharField(choices=[('inbox', 'inbox'), ('mail', 'mail'), ('digest', 'digest')], default='inbox', max_length=8)),
                ('asked_at', models.DateTimeField(null=True)),
                ('confirmed_at', models.DateTimeField(null=True)),
                ('person', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='mail', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Notice',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('entry', models.PositiveBigIntegerField()),
                ('type', models.CharField(max_length=40)),
                ('words', models.CharField(max_length=600)),
                ('because', models.CharField(max_length=300)),
                ('page', models.CharField(max_length=300)),
                ('at', models.CharField(max_length=40)),
                ('read_at', models.DateTimeField(null=True)),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='notices', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Reminder',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(max_length=20)),
                ('key', models.CharField(max_length=200)),
                ('at', models.DateTimeField()),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('what', 'key'), name='one_reminder_each')],
            },
        ),
        migrations.CreateModel(
            name='Webhook',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('address', models.CharField(max_length=500)),
                ('about', models.CharField(choices=[('team', 'team'), ('catalog', 'catalog')], max_length=8)),
                ('types', models.JSONField(default=list)),
                ('round', models.PositiveIntegerField(default=1)),
                ('rotated_at', models.DateTimeField(null=True)),
                ('made_at', models.DateTimeField()),
                ('failures', models.PositiveIntegerField(default=0)),
                ('resting_until', models.DateTimeField(null=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('end_reason', models.CharField(blank=True, max_length=300)),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('team', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='webhooks', to='people.team')),
            ],
        ),
        migrations.CreateModel(
            name='Delivery',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=40, unique=True)),
                ('entry', models.PositiveBigIntegerField(default=0)),
                ('because', models.CharField(blank=True, max_length=300)),
                ('digest', models.BooleanField(default=False)),
                ('batch', models.CharField(blank=True, max_length=40)),
                ('state', models.CharField(choices=[('waiting', 'waiting'), ('sent', 'sent'), ('undeliverable', 'undeliverable')], default='waiting', max_length=16)),
                ('due_at', models.DateTimeField()),
                ('lease_until', models.DateTimeField(null=True)),
                ('attempts', models.PositiveSmallIntegerField(default=0)),
                ('answer', models.CharField(blank=True, max_length=40)),
                ('error', models.CharField(blank=True, max_length=500)),
                ('made_at', models.DateTimeField()),
                ('ended_at', models.DateTimeField(null=True)),
                ('person', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='deliveries', to=settings.AUTH_USER_MODEL)),
                ('notice', models.OneToOneField(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='delivery', to='telling.notice')),
                ('webhook', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='deliveries', to='telling.webhook')),
            ],
        ),
        migrations.CreateModel(
            name='Following',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('about', models.CharField(db_index=True, max_length=80)),
                ('how', models.CharField(choices=[('inbox', 'inbox'), ('mail', 'mail'), ('digest', 'digest'), ('nothing', 'nothing')], max_length=8)),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='followings', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('person', 'about'), name='one_following_each')],
            },
        ),
        migrations.AddIndex(
            model_name='notice',
            index=models.Index(fields=['person', 'read_at', '-entry'], name='unread_notices'),
        ),
        migrations.AddConstraint(
            model_name='notice',
            constraint=models.UniqueConstraint(fields=('person', 'entry'), name='one_notice_of_an_entry'),
        ),
        migrations.AddIndex(
            model_name='delivery',
            index=models.Index(fields=['state', 'due_at'], name='deliveries_due'),
        ),
        migrations.AddIndex(
            model_name='delivery',
            index=models.Index(fields=['webhook', '-id'], name='deliveries_of_webhook'),
        ),
    ]
