from __future__ import annotations

from django.urls import path, re_path

from tallshelf.service.telling.api import reach_views, views, webhook_views

urlpatterns = [
    path("events", views.EventsView.as_view(), name="events"),
    path("notices", views.NoticesView.as_view(), name="notices"),
    path("following", reach_views.FollowingView.as_view(), name="following"),
    path("mail", reach_views.MailView.as_view(), name="mail"),
    path("mail/confirmation", reach_views.ConfirmationView.as_view(), name="mail-confirmation"),
    path("webhooks", webhook_views.WebhooksView.as_view(), name="webhooks"),
    path("webhooks/<int:number>", webhook_views.WebhookView.as_view(), name="webhook"),
    path("webhooks/<int:number>/end", webhook_views.EndView.as_view(), name="webhook-end"),
    path("webhooks/<int:number>/secret", webhook_views.SecretView.as_view(), name="webhook-secret"),
    path("webhooks/<int:number>/trial", webhook_views.TrialView.as_view(), name="webhook-trial"),
    path("webhooks/<int:number>/deliveries", webhook_views.SentView.as_view(), name="webhook-deliveries"),
    path("deliveries", webhook_views.DeliveriesView.as_view(), name="deliveries"),
    path("deliveries/<str:key>/resend", webhook_views.ResendView.as_view(), name="resend"),
    path("notices/read", views.NoticesReadView.as_view(), name="notices-read"),
]
feeds = [
    path("catalog.atom", views.FeedView.as_view(), name="catalog-feed"),
    re_path(
        r"^(?P<kind>servers|teams|kits)/(?P<name>[a-z0-9-]{1,64})\.atom$",
        views.FeedView.as_view(),
        name="feed",
    ),
]
