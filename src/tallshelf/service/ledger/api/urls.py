from __future__ import annotations

from django.urls import path

from tallshelf.service.ledger.api import views

urlpatterns = [
    path("ledger", views.LedgerView.as_view(), name="ledger"),
    path("ledger/checkpoint", views.CheckpointView.as_view(), name="ledger-checkpoint"),
    path("ledger/export", views.ExportView.as_view(), name="ledger-export"),
]
