from __future__ import annotations

from django.urls import path

from tallshelf.service.people.api import account_views, views

urlpatterns = [
    path("session", views.SessionView.as_view(), name="session"),
    path("password", views.PasswordView.as_view(), name="password"),
    path("sessions", views.SessionsView.as_view(), name="sessions"),
    path("sessions/<int:number>", views.OneSessionView.as_view(), name="one-session"),
    path("tokens", views.TokensView.as_view(), name="tokens"),
    path("tokens/<int:number>", views.TokenView.as_view(), name="token"),
    path("deputies", views.DeputiesView.as_view(), name="deputies"),
    path("deputies/<int:number>", views.DeputyView.as_view(), name="deputy"),
    path("people", account_views.PeopleView.as_view(), name="people"),
    path("people/<str:username>", account_views.PersonView.as_view(), name="person"),
    path("people/<str:username>/invitation", account_views.InviteView.as_view(), name="invite"),
    path("people/<str:username>/sessions", account_views.PersonSessionsView.as_view(), name="end-sessions"),
    path("people/<str:username>/tokens", account_views.PersonTokensView.as_view(), name="person-tokens"),
    path("invitation", account_views.AcceptanceView.as_view(), name="accept-invite"),
    path("teams", views.TeamsView.as_view(), name="teams"),
]
