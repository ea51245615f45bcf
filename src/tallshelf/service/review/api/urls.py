from __future__ import annotations

from django.urls import path

from tallshelf.service.review.api import views

urlpatterns = [
    path("servers/<str:slug>/releases", views.SubmitView.as_view()),
    path("servers/<str:slug>/check", views.CheckView.as_view()),
    path("requests", views.RequestsView.as_view()),
    path("requests/<int:number>", views.RequestView.as_view()),
    path("requests/<int:number>/sign-offs", views.SignOffsView.as_view()),
    path("requests/<int:number>/publication", views.PublicationView.as_view()),
    path("requests/<int:number>/take-back", views.TakeBackView.as_view()),
]
