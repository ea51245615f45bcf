from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from tallshelf.core.kits import EFFECTS, MOVES, WORDS
from tallshelf.core.kits.reading import MOST_NAMES
from tallshelf.core.routing import DATA_CLASSES
from tallshelf.service.catalog.api.overlap_serializers import MixUpField
from tallshelf.service.web.openapi import component


class KitRow(serializers.Serializer[Any]):
    name = serializers.CharField()
    title = serializers.CharField()
    team_slug = serializers.CharField()
    team_title = serializers.CharField()
    environment = serializers.CharField()
    data_class = serializers.ChoiceField(DATA_CLASSES, help_text="the highest it may see")
    budget = serializers.IntegerField(allow_null=True, help_text="in tokens of a model's context")
    moves = serializers.ChoiceField(MOVES, help_text="whether its lock follows what fits by itself")
    held_items = serializers.IntegerField(help_text="how many items it holds")
    tokens = serializers.IntegerField(help_text="an estimate, of all that it holds")
    servers = serializers.IntegerField()
    suspended = serializers.IntegerField(help_text="servers of which something that it holds is suspended")
    deprecated = serializers.IntegerField(
        help_text="releases that it holds and that are not published any more"
    )
    changed_at = serializers.DateTimeField(help_text="when the ledger last told of it")


class KitsPage(serializers.Serializer[Any]):
    results = KitRow(many=True)
    next = serializers.CharField(allow_null=True, help_text="cursor of the next page")


class NewKit(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=1_000_000, help_text="a kit in TOML: tallshelf.kit/1")
    reason = serializers.CharField(
        max_length=2000,
        required=False,
        allow_blank=True,
        default="",
        help_text="why it is to see higher data",
    )


class KitText(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=1_000_000, help_text="a kit in TOML: tallshelf.kit/1")


class PickRow(serializers.Serializer[Any]):
    server = serializers.CharField()
    version = serializers.CharField(help_text="1.4.2, ^1.4 or current")
    picked = serializers.ListField(
        child=serializers.CharField(), help_text="by name; empty: all that only read"
    )


class LockedItem(serializers.Serializer[Any]):
    server = serializers.CharField()
    version = serializers.CharField()
    release_digest = serializers.CharField()
    item = serializers.CharField()
    item_digest = serializers.CharField()
    tokens = serializers.IntegerField()
    effect = serializers.ChoiceField(EFFECTS)
    outside = serializers.BooleanField(help_text="it reaches outside")
    data_class = serializers.ChoiceField(DATA_CLASSES, help_text="of its server")


class KitProblem(serializers.Serializer[Any]):
    kind = serializers.CharField()
    key = serializers.CharField(help_text="where in the kit")
    message = serializers.CharField()
    server = serializers.CharField(allow_blank=True)
    item = serializers.CharField(allow_blank=True)


@extend_schema_field(component("KitHit"))
class KitHitField(serializers.JSONField):
    """A kit that is hit."""


@extend_schema_field(component("KitHitItem"))
class KitHitItemField(serializers.JSONField):
    """What reaches a kit of one item."""


class KitStandIn(serializers.Serializer[Any]):
    item = serializers.CharField(help_text="that ends, as server#item")
    by = serializers.CharField(help_text="that could stand in, as server#item")
    kind = serializers.ChoiceField(("same-job", "near"), help_text="the class of their overlap")
    score = serializers.FloatField()
    stands_in = serializers.BooleanField(
        allow_null=True, help_text="whether it takes the same calls; null: undecided"
    )


class MatrixKit(serializers.Serializer[Any]):
    name = serializers.CharField()
    title = serializers.CharField()
    team_slug = serializers.CharField()


class MatrixServer(serializers.Serializer[Any]):
    slug = serializers.CharField()
    team_slug = serializers.CharField()


class MatrixCell(serializers.Serializer[Any]):
    kit = serializers.CharField()
    server = serializers.CharField()
    version = serializers.CharField()
    held_items = serializers.IntegerField()
    mark = serializers.CharField(
        allow_blank=True, help_text="suspended, or the state of a release not published any more"
    )


class KitMatrix(serializers.Serializer[Any]):
    kits = MatrixKit(many=True)
    servers = MatrixServer(many=True)
    cells = MatrixCell(many=True)


class Ending(serializers.Serializer[Any]):
    kits = serializers.ListField(child=KitHitField())
    teams = serializers.ListField(child=serializers.CharField(), help_text="owner teams of these kits")
    stand_ins = KitStandIn(many=True)


class Behind(serializers.Serializer[Any]):
    server = serializers.CharField()
    holds = serializers.CharField()
    takes = serializers.CharField(help_text="what its pick takes now")
    why = serializers.CharField(allow_blank=True, help_text="why it does not move by itself; blank: it may")
    word = serializers.ChoiceField(WORDS, allow_null=True)
    hit_items = serializers.ListField(child=KitHitItemField())


class KitMove(serializers.Serializer[Any]):
    server = serializers.CharField()
    before = serializers.CharField(allow_blank=True)
    after = serializers.CharField(allow_blank=True)
    gained = serializers.ListField(child=serializers.CharField())
    lost = serializers.ListField(child=serializers.CharField())
    changed = serializers.ListField(child=serializers.CharField())


class KitLock(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    at = serializers.DateTimeField()
    by = serializers.CharField(allow_blank=True, help_text="blank: by itself")
    because = serializers.CharField()
    held_items = serializers.IntegerField()
    tokens = serializers.IntegerField()
    moves = KitMove(many=True)


class AskedOwner(serializers.Serializer[Any]):
    server = serializers.CharField()
    team = serializers.CharField(help_text="its owner team, which is asked")
    request = serializers.IntegerField(help_text="by which it is asked")


class ProposedKit(serializers.Serializer[Any]):
    data_class = serializers.ChoiceField(DATA_CLASSES)
    raises = serializers.BooleanField(
        help_text="whether it would see higher data, which takes a second curator"
    )
    waits_for = AskedOwner(many=True, help_text="owners who were asked whether it may use their servers")
    note = serializers.CharField(help_text="why it could not be put, where that was tried")
    reason = serializers.CharField()
    text = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()
    may_answer = serializers.BooleanField()


class NamedProposal(ProposedKit):
    name = serializers.CharField()
    team = serializers.CharField()


class ProposedKits(serializers.Serializer[Any]):
    results = NamedProposal(many=True)


class KitDetail(KitRow):
    contacts = serializers.ListField(child=serializers.CharField())
    purpose = serializers.CharField()
    text = serializers.CharField()
    digest = serializers.CharField(help_text="send it as If-Match")
    put_by = serializers.CharField()
    put_at = serializers.DateTimeField()
    picks = PickRow(many=True)
    lock = LockedItem(many=True)
    problems = KitProblem(many=True)
    behind = Behind(many=True, help_text="servers of which its picks take another release by now")
    mix_ups = serializers.ListField(child=MixUpField())
    history = KitLock(many=True)
    proposed = ProposedKit(allow_null=True, help_text="that it sees higher data, where that waits")
    may_keep = serializers.BooleanField()


class KitPut(serializers.Serializer[Any]):
    name = serializers.CharField()
    state = serializers.ChoiceField(("put", "as it was", "proposed"))
    digest = serializers.CharField()
    raises = serializers.BooleanField(help_text="whether it waits for a second curator")
    waits_for = AskedOwner(many=True, help_text="owners who are asked whether it may use their servers")


class CheckedMove(KitMove):
    why = serializers.CharField(allow_blank=True, help_text="why it does not move by itself")
    word = serializers.ChoiceField(WORDS, allow_null=True)
    hit_items = serializers.ListField(child=KitHitItemField())


class OwnerToAsk(serializers.Serializer[Any]):
    server = serializers.CharField()
    team = serializers.CharField(help_text="its owner team")


class KitCheck(serializers.Serializer[Any]):
    format = serializers.CharField()
    kit = serializers.CharField()
    digest = serializers.CharField()
    on_shelf = serializers.BooleanField()
    as_put = serializers.BooleanField(help_text="it says what the one on the shelf says")
    tokens = serializers.IntegerField()
    budget = serializers.IntegerField(allow_null=True)
    held_items = serializers.IntegerField(help_text="how many items it comes to")
    problems = KitProblem(many=True)
    moves = CheckedMove(many=True, help_text="what would move against its lock")
    mix_ups = serializers.ListField(child=MixUpField())
    asks = OwnerToAsk(many=True, help_text="whose owners are asked, and agree first, when it is put")
    passed = serializers.BooleanField()
    because = serializers.ListField(child=serializers.CharField())


class HostServer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=200)
    command = serializers.CharField(max_length=1000, required=False, allow_blank=True, default="")
    args = serializers.ListField(
        child=serializers.CharField(max_length=2000, allow_blank=True),
        required=False,
        default=list,
        max_length=200,
    )
    url = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")


class ForKit(serializers.Serializer[Any]):
    servers = HostServer(many=True, required=False, default=list, help_text="of a host's configuration")
    names = serializers.ListField(
        child=serializers.CharField(max_length=2000),
        required=False,
        default=list,
        max_length=MOST_NAMES,
        help_text="that texts mention",
    )


class KnownServer(serializers.Serializer[Any]):
    name = serializers.CharField()
    server = serializers.CharField(allow_blank=True, help_text="blank: it is not on the shelf")
    version = serializers.CharField(allow_blank=True, help_text="the current one")
    because = serializers.CharField(allow_blank=True, help_text="name, address, package or command")


class KnownItem(serializers.Serializer[Any]):
    name = serializers.CharField()
    item = serializers.CharField()
    servers = serializers.ListField(child=serializers.CharField(), help_text="that offer it now")
    gone_from = serializers.ListField(child=serializers.CharField(), help_text="servers that had it")
    nearest = serializers.ListField(child=serializers.CharField())


class KnownForKit(serializers.Serializer[Any]):
    servers = KnownServer(many=True)
    items = KnownItem(many=True)


class KitMoveTo(serializers.Serializer[Any]):
    to = serializers.CharField(
        max_length=170, required=False, allow_blank=True, default="", help_text="server or server@version"
    )


class KitMoved(serializers.Serializer[Any]):
    name = serializers.CharField()
    moved = serializers.BooleanField()
    kit = KitDetail()


class KitReason(serializers.Serializer[Any]):
    reason = serializers.CharField(max_length=2000)


class KitAnswer(serializers.Serializer[Any]):
    answer = serializers.ChoiceField(("agree", "decline"))
    note = serializers.CharField(max_length=2000, required=False, allow_blank=True, default="")


class KitAnswered(serializers.Serializer[Any]):
    name = serializers.CharField()
    state = serializers.ChoiceField(("in force", "declined"))


class HeldBy(serializers.Serializer[Any]):
    kit = serializers.CharField()
    title = serializers.CharField()
    team = serializers.CharField()
    environment = serializers.CharField()
    held = serializers.ListField(child=serializers.CharField())


class ReleaseHeld(serializers.Serializer[Any]):
    version = serializers.CharField()
    state = serializers.CharField()
    kits = HeldBy(many=True)


class ReleasesHeld(serializers.Serializer[Any]):
    results = ReleaseHeld(many=True)
