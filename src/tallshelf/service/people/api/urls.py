from __future__ import annotations

from django.urls import path

from tallshelf.service.people.api import views

urlpatterns = [
    path("session", views.SessionView.as_view(), name="session"),
    path("password", views.PasswordView.as_view(), name="password"),
    path("sessions", views.SessionsView.as_view(), name="sessions"),
    path("sessions/<int:number>", views.OneSessionView.as_view(), name="one-session"),
    path("tokens", views.TokensView.as_view(), name="tokens"),
    path("tokens/<int:number>", views.TokenView.as_view(), name="token"),
    path("deputies", views.DeputiesView.as_view(), name="deputies"),
    path("deputies/<int:number>", views.DeputyView.as_view(), name="deputy"),
    path("teams", views.TeamsView.as_view(), name="teams"),
]
