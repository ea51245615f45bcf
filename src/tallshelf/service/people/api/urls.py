from __future__ import annotations

from django.urls import path

from tallshelf.service.people.api import views

urlpatterns = [
    path("session", views.SessionView.as_view()),
    path("password", views.PasswordView.as_view()),
    path("sessions", views.SessionsView.as_view()),
    path("sessions/<int:number>", views.OneSessionView.as_view()),
    path("tokens", views.TokensView.as_view()),
    path("tokens/<int:number>", views.TokenView.as_view()),
    path("teams", views.TeamsView.as_view()),
]
