"""What can be shown of the ledger over HTTP: proofs, and whether it holds."""

from __future__ import annotations

from typing import Any

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.ledger import read_checkpoint
from tallshelf.service.ledger import checkpoints
from tallshelf.service.people.permissions import require
from tallshelf.service.review.proofs import proof
from tallshelf.service.verifying import verify
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.endpoint import Endpoint


class Verified(serializers.Serializer[Any]):
    entries = serializers.IntegerField(help_text="how many hold")
    head = serializers.CharField(help_text="the hash of the last of them")
    fault = serializers.CharField(allow_blank=True, help_text="what is wrong with the one after")
    refused = serializers.ListField(
        child=serializers.CharField(), help_text="acts that nobody was entitled to, by entry"
    )
    differences = serializers.ListField(
        child=serializers.CharField(),
        help_text="where the tables say what the ledger does not: the first row of each kind",
    )
    unreadable = serializers.ListField(
        child=serializers.CharField(), help_text="entries that cannot be read; the others were"
    )
    not_told = serializers.DictField(
        child=serializers.IntegerField(), help_text="what older entries do not tell, and how often"
    )
    kept_at = serializers.DateTimeField(
        allow_null=True, help_text="of the kept checkpoint that agrees with it"
    )


_KEPT = OpenApiParameter(
    "checkpoint", description="One that was kept elsewhere, signed by this service's key."
)


class VerificationView(Endpoint):
    """Recompute the ledger's chain, judge each act in it, and hold the tables against what it comes to."""

    @extend_schema(operation_id="verify_ledger", parameters=[_KEPT], responses=Verified)
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see-ledger")
        text = request.query_params.get("checkpoint", "").strip()
        kept = read_checkpoint(text, checkpoints.public()) if text else None
        report = verify(kept)
        return Response(
            {
                "entries": report.chain.entries,
                "head": report.chain.head,
                "fault": report.chain.fault,
                "refused": report.refused,
                "differences": report.differences,
                "unreadable": report.unreadable,
                "not_told": report.not_told,
                "kept_at": kept.at if kept and not report.chain.fault else None,
            }
        )


class ProofView(Endpoint):
    """What shows offline that these bytes were approved: by whom, when, and which they are."""

    @extend_schema(operation_id="prove", responses=OpenApiTypes.OBJECT)
    def get(self, request: Request, digest: str) -> Response:
        return Response(proof(actor_of(request), digest))
