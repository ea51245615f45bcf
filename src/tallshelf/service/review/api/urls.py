from __future__ import annotations

from django.urls import path

from tallshelf.service.review.api import discussion_views, evidence_views, routing_views, views

urlpatterns = [
    path("servers/<str:slug>/releases", views.SubmitView.as_view(), name="submit"),
    path("servers/<str:slug>/check", views.CheckView.as_view(), name="check"),
    path("requests", views.RequestsView.as_view(), name="requests"),
    path("requests/<int:number>", views.RequestView.as_view(), name="request"),
    path("request-kinds", views.RequestKindsView.as_view(), name="request-kinds"),
    path("requests/<int:number>/sign-offs", views.SignOffsView.as_view(), name="sign-offs"),
    path("requests/<int:number>/publication", views.PublicationView.as_view(), name="publication"),
    path("requests/<int:number>/take-back", views.TakeBackView.as_view(), name="take-back"),
    path("requests/<int:number>/assessment", views.AssessmentView.as_view(), name="assessment"),
    path("requests/<int:number>/comments", discussion_views.CommentsView.as_view(), name="comments"),
    path(
        "requests/<int:number>/comments/<int:comment>/answers",
        discussion_views.CommentAnswerView.as_view(),
        name="comment-answer",
    ),
    path("requests/<int:number>/taking", discussion_views.TakingView.as_view(), name="taking"),
    path("follow-ups", discussion_views.FollowUpsView.as_view(), name="follow-ups"),
    path("follow-ups/<int:number>/closing", discussion_views.ClosingView.as_view(), name="closing"),
    path("by-digest/<str:digest>/proof", evidence_views.ProofView.as_view(), name="proof"),
    path("ledger/verification", evidence_views.VerificationView.as_view(), name="ledger-verification"),
    path("inbox", discussion_views.InboxView.as_view(), name="inbox"),
    path("routing", routing_views.RoutingView.as_view(), name="routing"),
    path("routing/versions", routing_views.RoutingVersionsView.as_view(), name="routing-versions"),
    path(
        "routing/versions/<int:version>/answer",
        routing_views.RoutingAnswerView.as_view(),
        name="routing-answer",
    ),
    path("routing/rehearsal", routing_views.RoutingRehearsalView.as_view(), name="routing-rehearsal"),
    path("desks", routing_views.DesksView.as_view(), name="desks"),
    path("waivers", views.WaiversView.as_view(), name="waivers"),
    path("waivers/<int:number>/answer", views.WaiverAnswerView.as_view(), name="waiver-answer"),
]
