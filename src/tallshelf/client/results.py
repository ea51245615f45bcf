"""The kinds of records that the client answers with; written by docs/write_client.py."""

from __future__ import annotations

from tallshelf.client._record import Record


class Agreed(Record):
    """The component Agreed."""

    at: str
    name: str


class AgreedDespite(Record):
    """The component AgreedDespite."""

    by: str
    gate: str
    reason: str


class Alike(Record):
    """The component Alike."""

    alike: int
    server: str
    team: str


class Approval(Record):
    """The component Approval."""

    approved: bool
    release_digest: str
    reviewed: bool
    server: str
    snapshot_digest: str
    state: str
    suspended: bool
    version: str


class AskedOwner(Record):
    """The component AskedOwner."""

    request: int
    server: str
    team: str


class Assessment(Record):
    """What `check` says of a snapshot, and what a request stores."""

    base: str | None
    because: list[str]
    changes: list[Change] | None
    digest: str
    facts: Record
    findings: list[Finding]
    format: str
    gates: list[Record]
    inputs: Record
    kits: list[KitHit] | None
    next_version: Record
    not_checked: list[str]
    overlaps: list[Overlap] | None
    passed: bool
    route: Record | None
    snapshot: str
    style: str
    substance: Record
    untouched: int | None
    version: str | None


class Behind(Record):
    """The component Behind."""

    hit_items: list[KitHitItem]
    holds: str
    server: str
    takes: str
    why: str
    word: str | None


class ByDigest(Record):
    """The component ByDigest."""

    approved: bool
    digest: str
    releases: list[Approval]


class Change(Record):
    """The component Change."""

    basis: str
    folded: bool
    impact: str
    item: str
    kind: str
    message: str
    new_pointer: str | None
    notice: float | None
    old_pointer: str | None
    reach: list[str]
    ruled: str
    silent: bool
    verdict: str | None
    witness: Record | None


class ChangeGroup(Record):
    """The same change at one place or more; each change that somebody meets is in one group."""

    impact: str
    kind: str
    message: str
    places: list[Record]
    reach: list[str]
    silent: bool


class ChangesSummary(Record):
    """The component ChangesSummary."""

    groups: list[ChangeGroup]


class Checked(Record):
    """The component Checked."""

    assessment: Assessment
    markdown: str
    text: str


class CheckedMove(Record):
    """The component CheckedMove."""

    after: str
    before: str
    changed: list[str]
    gained: list[str]
    hit_items: list[KitHitItem]
    lost: list[str]
    server: str
    why: str
    word: str | None


class Checkpoint(Record):
    """The component Checkpoint."""

    checkpoint: str
    key: str


class CloudEvent(Record):
    """The component CloudEvent."""

    data: Record
    datacontenttype: str
    id: str
    source: str
    specversion: str
    subject: str
    time: str
    type: str


class CommentRow(Record):
    """The component CommentRow."""

    answers: list[Said]
    at: str
    id: int
    item: str
    kind: str
    name: str
    place: str | None
    pointer: str
    quoted: str
    settled: bool
    text: str


class Comparison(Record):
    """What `compare` says of two snapshots."""

    changes: list[Change]
    format: str
    groups: list[ChangeGroup]
    kits: list[KitHit]
    new: str
    next_version: Record
    not_checked: list[str]
    old: str
    untouched: int


class Connection(Record):
    """The component Connection."""

    block: Record
    deprecated: bool
    environment: str
    environments: list[str]
    release: str
    release_digest: str
    replacement: str
    sunset_at: str | None
    suspended: list[SuspendedItem]
    warning: str


class Counts(Record):
    """The component Counts."""

    error: int
    note: int
    warning: int


class Declared(Record):
    """a tool, resource, template or prompt as the server declared it, after the protocol"""

    description: str
    name: str
    title: str
    uri: str
    uriTemplate: str


class DeliveriesPage(Record):
    """The component DeliveriesPage."""

    next: str | None
    results: list[DeliveryRow]


class DeliveryRow(Record):
    """The component DeliveryRow."""

    answer: str
    attempts: int
    due_at: str
    ended_at: str | None
    entry: int
    error: str
    key: str
    made_at: str
    state: str
    to: str
    webhook: int | None
    words: str


class Deputies(Record):
    """The component Deputies."""

    results: list[DeputyRow]


class DeputyRow(Record):
    """The component DeputyRow."""

    deputy: str
    id: int
    own: bool
    person: str
    since: str
    until: str


class DeskLoad(Record):
    """The component DeskLoad."""

    desk: str
    requests_after: int
    requests_before: int
    sign_offs_after: int
    sign_offs_before: int


class DeskMember(Record):
    """The component DeskMember."""

    name: str
    since: str
    username: str


class DeskRow(Record):
    """The component DeskRow."""

    desk: str
    lead: str | None
    members: list[DeskMember]
    owner_team_excluded: bool
    title: str


class Desks(Record):
    """The component Desks."""

    results: list[DeskRow]


class Despite(Record):
    """The component Despite."""

    gate: str
    reason: str


class Edge(Record):
    """The component Edge."""

    a: int
    b: int
    count: int
    ruled: bool
    same_job: bool
    score: float


class Ending(Record):
    """The component Ending."""

    kits: list[KitHit]
    stand_ins: list[KitStandIn]
    teams: list[str]


class EntryRow(Record):
    """The component EntryRow."""

    actor: str
    at: str
    body: Record
    event: str
    hash: str
    number: int
    previous: str
    subject: str
    via: str


class EventsPage(Record):
    """The component EventsPage."""

    more: bool
    next: int
    results: list[CloudEvent]


class Finding(Record):
    """The component Finding."""

    covers: list[str]
    family: str
    fingerprint: str
    item: str
    known: bool
    level: str
    message: str
    pointer: str
    rule: str
    span: list[int] | None
    suggestion: list[Record] | None
    waived: str | None


class Findings(Record):
    """What `lint` says of a snapshot."""

    findings: list[Finding]
    format: str


class FollowUpOfSignOff(Record):
    """The component FollowUpOfSignOff."""

    closed_at: str | None
    closed_by: str | None
    closing_note: str
    due: str
    id: int
    owner: str
    text: str


class FollowUpRow(Record):
    """The component FollowUpRow."""

    asked_by: str
    closed_at: str | None
    closed_by: str | None
    closing_note: str
    due: str
    id: int
    kind: str
    may_close: bool
    owner: str
    request: int
    server: str
    text: str
    version: str


class FollowUps(Record):
    """The component FollowUps."""

    results: list[FollowUpRow]


class FollowingRow(Record):
    """The component FollowingRow."""

    about: str
    how: str


class Followings(Record):
    """The component Followings."""

    results: list[FollowingRow]


class Found(Record):
    """The component Found."""

    fit: str
    next: str | None
    respelled: Record
    results: list[Hit]


class GivenSignOff(Record):
    """The component GivenSignOff."""

    answer: str
    assessment_digest: str
    at: str
    conditions: list[FollowUpOfSignOff]
    desk: str
    despite: list[Despite]
    name: str
    note: str
    release_digest: str
    voided: bool


class Group(Record):
    """The component Group."""

    members: list[Member]
    overlaps: list[PairedOverlap]
    ruling: RulingRow | None
    score: float
    servers: list[Alike]
    teams: list[str]


class Groups(Record):
    """The component Groups."""

    groups: list[Group]
    next: str | None


class HeldBy(Record):
    """The component HeldBy."""

    environment: str
    held: list[str]
    kit: str
    team: str
    title: str


class Hit(Record):
    """The component Hit."""

    deprecated: str
    item: str
    kind: str
    name: list[Piece]
    notes: list[HitNote]
    parameters: list[list[Piece]]
    preferred: str
    says: list[SaidWord]
    server: str
    server_title: str
    suspended: str
    team: str
    team_title: str
    text: list[Piece]
    version: str | None


class HitNote(Record):
    """The component HitNote."""

    answer: str
    at: str
    by: str
    text: str


class Inbox(Record):
    """The component Inbox."""

    results: list[InboxEntry]


class InboxEntry(Record):
    """The component InboxEntry."""

    at: str
    due_at: str | None
    kind: str
    overdue: bool
    page: str
    risen: bool
    words: str


class Invited(Record):
    """The component Invited."""

    code: str
    username: str


class Item(Record):
    """The component Item."""

    declared: Declared
    deprecated: str
    description: str
    digest: str
    findings: list[Finding]
    item: str
    kind: str
    name: str
    parameters: list[Line]
    results: list[Line]
    tokens: int


class ItemChanges(Record):
    """One item: its worst impact, whom that reaches, and how many changes there are of each."""

    counts: Record
    impact: str
    item: str
    reach: list[str]


class Items(Record):
    """What a model will see of a snapshot."""

    findings: list[Finding]
    format: str
    instructions: str
    server: str
    token_method: str
    tokens: int


class KitAnswered(Record):
    """The component KitAnswered."""

    name: str
    state: str


class KitCheck(Record):
    """The component KitCheck."""

    as_put: bool
    asks: list[OwnerToAsk]
    because: list[str]
    budget: int | None
    digest: str
    format: str
    held_items: int
    kit: str
    mix_ups: list[MixUp]
    moves: list[CheckedMove]
    on_shelf: bool
    passed: bool
    problems: list[KitProblem]
    tokens: int


class KitDetail(Record):
    """The component KitDetail."""

    behind: list[Behind]
    budget: int | None
    changed_at: str
    contacts: list[str]
    data_class: str
    deprecated: int
    digest: str
    environment: str
    held_items: int
    history: list[KitLock]
    lock: list[LockedItem]
    may_keep: bool
    mix_ups: list[MixUp]
    moves: str
    name: str
    picks: list[PickRow]
    problems: list[KitProblem]
    proposed: ProposedKit | None
    purpose: str
    put_at: str
    put_by: str
    servers: int
    suspended: int
    team_slug: str
    team_title: str
    text: str
    title: str
    tokens: int


class KitHit(Record):
    """A kit that is hit, by its worst item."""

    environment: str
    hit_items: list[KitHitItem]
    kit: str
    team: str
    title: str
    word: str


class KitHitItem(Record):
    """What reaches a kit of one item that it holds at a version: the worst of it, and how often each."""

    counts: Record
    item: str
    message: str
    version: str
    witness: Record | None
    word: str


class KitLock(Record):
    """The component KitLock."""

    at: str
    because: str
    by: str
    held_items: int
    moves: list[KitMove]
    number: int
    tokens: int


class KitMatrix(Record):
    """The component KitMatrix."""

    cells: list[MatrixCell]
    kits: list[MatrixKit]
    servers: list[MatrixServer]


class KitMove(Record):
    """The component KitMove."""

    after: str
    before: str
    changed: list[str]
    gained: list[str]
    lost: list[str]
    server: str


class KitMoved(Record):
    """The component KitMoved."""

    kit: KitDetail
    moved: bool
    name: str


class KitProblem(Record):
    """The component KitProblem."""

    item: str
    key: str
    kind: str
    message: str
    server: str


class KitPut(Record):
    """The component KitPut."""

    digest: str
    name: str
    raises: bool
    state: str
    waits_for: list[AskedOwner]


class KitReason(Record):
    """The component KitReason."""

    reason: str


class KitRow(Record):
    """The component KitRow."""

    budget: int | None
    changed_at: str
    data_class: str
    deprecated: int
    environment: str
    held_items: int
    moves: str
    name: str
    servers: int
    suspended: int
    team_slug: str
    team_title: str
    title: str
    tokens: int


class KitStandIn(Record):
    """The component KitStandIn."""

    by: str
    item: str
    kind: str
    score: float
    stands_in: bool | None


class KitsPage(Record):
    """The component KitsPage."""

    next: str | None
    results: list[KitRow]


class Known(Record):
    """The component Known."""

    known: int
    proposed: ProposedKnown | None
    server: str


class KnownForKit(Record):
    """The component KnownForKit."""

    servers: list[KnownServer]


class KnownItem(Record):
    """The component KnownItem."""

    gone_from: list[str]
    item: str
    name: str
    nearest: list[str]
    servers: list[str]


class KnownServer(Record):
    """The component KnownServer."""

    because: str
    name: str
    server: str
    version: str


class LastLook(Record):
    """The component LastLook."""

    answer: str
    assessment_digest: str
    at: str
    came: list[MovedLine]
    changes: list[Change]
    conditions: list[FollowUpOfSignOff]
    desk: str
    despite: list[Despite]
    inputs: list[str]
    name: str
    note: str
    release_digest: str
    same_release: bool
    voided: bool
    went: list[MovedLine]


class Launch(Record):
    """The component Launch."""

    args: list[str]
    command: str
    env: list[str]
    environment: str
    headers: list[str]
    package: Package
    transport: str
    url: str


class LedgerPage(Record):
    """The component LedgerPage."""

    next: str | None
    results: list[EntryRow]


class Life(Record):
    """The life of one item through the releases of a server, oldest first."""

    format: str
    item: str
    steps: list[Record]


class Line(Record):
    """The component Line."""

    description: str
    name: str
    pointer: str
    required: bool
    type: str


class LockedItem(Record):
    """The component LockedItem."""

    data_class: str
    effect: str
    item: str
    item_digest: str
    outside: bool
    release_digest: str
    server: str
    tokens: int
    version: str


class LookRow(Record):
    """The component LookRow."""

    at: str
    by: str
    detail: str
    differing: list[str]
    environment: str
    standing: str
    version: str


class Looks(Record):
    """The component Looks."""

    results: list[LookRow]


class MadeToken(Record):
    """The component MadeToken."""

    created_at: str
    expires_at: str
    id: int
    last_used_at: str | None
    name: str
    scopes: list[str]
    secret: str


class MadeWebhook(Record):
    """The component MadeWebhook."""

    about: str
    address: str
    end_reason: str
    ended_at: str | None
    failures: int
    id: int
    lost: int
    made_at: str
    made_by: str
    may_keep: bool
    resting_until: str | None
    rotated_at: str | None
    secret: str
    team: str
    types: list[str]
    waiting: int


class Mail(Record):
    """The component Mail."""

    address: str
    confirmed: bool
    how: str
    sends: bool


class MatrixCell(Record):
    """The component MatrixCell."""

    held_items: int
    kit: str
    mark: str
    server: str
    version: str


class MatrixKit(Record):
    """The component MatrixKit."""

    name: str
    team_slug: str
    title: str


class MatrixServer(Record):
    """The component MatrixServer."""

    slug: str
    team_slug: str


class Me(Record):
    """The component Me."""

    desks: list[str]
    name: str
    role: str
    teams: list[str]
    username: str


class Member(Record):
    """The component Member."""

    digest: str
    item: str
    server: str
    team: str


class MixUps(Record):
    """The component MixUps."""

    mix_ups: list[MixUp]


class MixUp(Record):
    """The component Mix_up."""

    a: Side
    b: Side
    only_a: list[str]
    only_b: list[str]
    risk: float


class MovedLine(Record):
    """The component MovedLine."""

    item: str
    kind: str
    words: str


class MovedRequest(Record):
    """The component MovedRequest."""

    added: list[str]
    dropped: list[str]
    request: int


class NamedProposal(Record):
    """The component NamedProposal."""

    at: str
    by: str
    data_class: str
    may_answer: bool
    name: str
    note: str
    raises: bool
    reason: str
    team: str
    text: str
    waits_for: list[AskedOwner]


class NoticeRow(Record):
    """The component NoticeRow."""

    at: str
    because: str
    entry: int
    page: str
    read_at: str | None
    type: str
    words: str


class NoticesPage(Record):
    """The component NoticesPage."""

    next: str | None
    results: list[NoticeRow]


class NoticesRead(Record):
    """The component NoticesRead."""

    upto: int


class Overlap(Record):
    """The component Overlap."""

    a: Side
    b: Side
    differences: list[str]
    newcomer: str | None
    preferred: str | None
    reasons: list[str]
    ruled: str | None
    score: float
    signals: Record
    stands_in: bool | None


class OverlapMap(Record):
    """The component OverlapMap."""

    edges: list[Edge]
    level: str
    points: list[Point]


class Overlaps(Record):
    """What `overlap` says of some snapshots."""

    format: str
    mix_ups: list[MixUp]
    overlaps: list[Overlap]


class OwnerToAsk(Record):
    """The component OwnerToAsk."""

    server: str
    team: str


class Package(Record):
    """The component Package."""

    integrity: str
    name: str
    version: str


class PairedOverlap(Record):
    """The component PairedOverlap."""

    a: Side
    b: Side
    differences: list[str]
    newcomer: str | None
    pair: str
    preferred: str | None
    reasons: list[str]
    ruled: str | None
    score: float
    signals: Record
    stands_in: bool | None


class People(Record):
    """The component People."""

    results: list[PersonRow]


class PersonRow(Record):
    """The component PersonRow."""

    active: bool
    desks: list[str]
    invited_until: str | None
    last_used_at: str | None
    name: str
    role: str
    sessions: int
    teams: list[str]
    tokens: list[PersonToken]
    username: str


class PersonToken(Record):
    """The component PersonToken."""

    expires_at: str
    id: int
    name: str
    scopes: list[str]


class PickRow(Record):
    """The component PickRow."""

    picked: list[str]
    server: str
    version: str


class Piece(Record):
    """The component Piece."""

    hit: bool
    text: str


class Placed(Record):
    """The component Placed."""

    finding: Finding
    server: str
    team: str
    version: str


class PlacedPage(Record):
    """The component PlacedPage."""

    next: str | None
    results: list[Placed]


class Point(Record):
    """The component Point."""

    item: str
    server: str
    size: int
    team: str
    x: float
    y: float


class Progress(Record):
    """The component Progress."""

    done: int
    total: int


class ProposedKit(Record):
    """The component ProposedKit."""

    at: str
    by: str
    data_class: str
    may_answer: bool
    note: str
    raises: bool
    reason: str
    text: str
    waits_for: list[AskedOwner]


class ProposedKits(Record):
    """The component ProposedKits."""

    results: list[NamedProposal]


class ProposedKnown(Record):
    """The component ProposedKnown."""

    at: str
    by: str
    findings: int
    id: int
    may_answer: bool
    number: int
    reason: str
    server: str
    state: str


class ProposedKnownList(Record):
    """The component ProposedKnownList."""

    results: list[ProposedKnown]


class Publication(Record):
    """The component Publication."""

    about: str | None
    approved_by: str
    assessment: Assessment
    changed_at: str
    changes_summary: ChangesSummary | None
    checkpoint: str
    comments: list[CommentRow]
    due_at: str | None
    id: int
    item: str
    kind: str
    kits: list[KitHit]
    last_look: LastLook | None
    may_comment: bool
    may_hand_on: bool
    may_publish: bool
    may_question: bool
    may_sign_at: list[str]
    may_take: bool
    may_take_back: bool
    mine: bool
    moved: list[str]
    note: str
    number: int
    opened_at: str
    opened_by: str
    release_digest: str
    release_state: str | None
    restricted_to: list[str] | None
    route: list[list[RouteDesk]]
    rule_set: int
    server: str
    sign_offs: list[GivenSignOff]
    snapshot_digest: str | None
    state: str
    submitters: list[str]
    suspended_because: str | None
    taken_by: str | None
    team: str
    tells: list[ToldTeam]
    terms: Terms
    title: str
    version: str
    waits_for: list[str]
    warnings: list[str]


class ReleaseComparison(Record):
    """What `compare` says of two snapshots."""

    changes: list[Change]
    format: str
    groups: list[ChangeGroup]
    kits: list[KitHit]
    new: str
    next_version: Record
    not_checked: list[str]
    old: str
    releases: Record
    untouched: int


class ReleaseDetail(Record):
    """The component ReleaseDetail."""

    breaking: bool
    captured: Record
    despite: list[AgreedDespite]
    digest: str
    end_reason: str
    ended_at: str | None
    item_count: int
    launch: list[Launch]
    origin: str
    published_at: str | None
    replacement: str
    server: str
    snapshot_digest: str
    state: str
    submitted_at: str
    submitted_by: str
    sunset_at: str | None
    suspensions: list[SuspensionRow]
    tokens: int
    tool_count: int
    version: str


class ReleaseHeld(Record):
    """The component ReleaseHeld."""

    kits: list[HeldBy]
    state: str
    version: str


class ReleaseRow(Record):
    """The component ReleaseRow."""

    breaking: bool
    captured: Record
    digest: str
    end_reason: str
    ended_at: str | None
    item_count: int
    launch: list[Launch]
    origin: str
    published_at: str | None
    replacement: str
    server: str
    snapshot_digest: str
    state: str
    submitted_at: str
    submitted_by: str
    sunset_at: str | None
    tokens: int
    tool_count: int
    version: str


class ReleasesHeld(Record):
    """The component ReleasesHeld."""

    results: list[ReleaseHeld]


class RequestDetail(Record):
    """The component RequestDetail."""

    about: str | None
    approved_by: str
    assessment: Assessment
    changed_at: str
    changes_summary: ChangesSummary | None
    comments: list[CommentRow]
    due_at: str | None
    id: int
    item: str
    kind: str
    kits: list[KitHit]
    last_look: LastLook | None
    may_comment: bool
    may_hand_on: bool
    may_publish: bool
    may_question: bool
    may_sign_at: list[str]
    may_take: bool
    may_take_back: bool
    mine: bool
    moved: list[str]
    note: str
    number: int
    opened_at: str
    opened_by: str
    release_digest: str
    release_state: str | None
    restricted_to: list[str] | None
    route: list[list[RouteDesk]]
    rule_set: int
    server: str
    sign_offs: list[GivenSignOff]
    snapshot_digest: str | None
    state: str
    submitters: list[str]
    suspended_because: str | None
    taken_by: str | None
    team: str
    tells: list[ToldTeam]
    terms: Terms
    title: str
    version: str
    waits_for: list[str]
    warnings: list[str]


class RequestKind(Record):
    """The component RequestKind."""

    about: str
    asked: bool
    button: str
    done: str
    kind: str
    subject: str
    terms: list[TermForm]
    verb: str
    words: str


class RequestKinds(Record):
    """The component RequestKinds."""

    results: list[RequestKind]


class RequestRow(Record):
    """The component RequestRow."""

    changed_at: str
    due_at: str | None
    id: int
    item: str
    kind: str
    mine: bool
    moved: list[str]
    number: int
    opened_at: str
    opened_by: str
    server: str
    state: str
    taken_by: str | None
    team: str
    title: str
    version: str
    waits_for: list[str]


class RequestsPage(Record):
    """The component RequestsPage."""

    next: str | None
    results: list[RequestRow]


class RouteDesk(Record):
    """The component RouteDesk."""

    agreed: list[Agreed]
    desk: str
    due_at: str
    hints: list[str]
    lead: str | None
    may_sign: list[str]
    needed: int
    reasons: list[str]
    standing: str
    title: str


class Routing(Record):
    """The component Routing."""

    agreed_by: str | None
    at: str | None
    by: str
    digest: str
    loosened: list[str]
    may_answer: bool
    may_change: bool
    note: str
    replaces: int
    state: str
    text: str
    version: int


class RoutingRehearsal(Record):
    """The component RoutingRehearsal."""

    approved_by_rule_after: int
    approved_by_rule_before: int
    desks: list[DeskLoad]
    faults: list[str]
    loosened: list[str]
    moved: list[MovedRequest]
    requests: int


class RoutingRow(Record):
    """The component RoutingRow."""

    agreed_by: str | None
    at: str | None
    by: str
    digest: str
    loosened: list[str]
    may_answer: bool
    note: str
    replaces: int
    state: str
    version: int


class RoutingVersions(Record):
    """The component RoutingVersions."""

    results: list[RoutingRow]


class Rule(Record):
    """The component Rule."""

    bad: Snapshot
    covers: list[str]
    family: str
    good: Snapshot
    level: str
    reason: str
    rule: str
    settings: list[Record]


class Rules(Record):
    """The component Rules."""

    results: list[Rule]


class RulingRow(Record):
    """The component RulingRow."""

    answer_note: str
    answered_at: str | None
    answered_by: str | None
    at: str
    base: str
    by: str
    due: str | None
    id: int
    may_answer: bool
    may_end: bool
    members: list[str]
    number: int
    overdue: bool
    owner: str
    pairs: list[str]
    preferred: str
    reason: str
    release: str
    state: str
    told: list[str]
    word: str


class RulingsPage(Record):
    """The component RulingsPage."""

    next: str | None
    results: list[RulingRow]


class Said(Record):
    """The component Said."""

    at: str
    id: int
    name: str
    text: str


class SaidWord(Record):
    """The component SaidWord."""

    asked: str
    said: str
    where: str


class ServerDetail(Record):
    """The component ServerDetail."""

    changed_at: str
    contact: str
    current_items: int | None
    current_tokens: int | None
    current_tools: int | None
    current_version: str | None
    data_class: str
    deprecated_items: int | None
    deprecated_tokens: int | None
    deprecated_version: str | None
    may_ask: bool
    may_edit: list[str]
    may_suspend: bool
    record_digest: str
    releases: list[ReleaseRow]
    reviewed: bool | None
    scheme: str
    slug: str
    source_link: str
    suspended: bool
    suspensions: list[SuspensionRow]
    tags: list[str]
    team_slug: str
    team_title: str
    title: str
    transports: list[str]
    use: str
    waiting: bool


class ServerRow(Record):
    """The component ServerRow."""

    changed_at: str
    contact: str
    current_items: int | None
    current_tokens: int | None
    current_tools: int | None
    current_version: str | None
    data_class: str
    deprecated_items: int | None
    deprecated_tokens: int | None
    deprecated_version: str | None
    reviewed: bool | None
    scheme: str
    slug: str
    source_link: str
    suspended: bool
    tags: list[str]
    team_slug: str
    team_title: str
    title: str
    transports: list[str]
    use: str
    waiting: bool


class ServersPage(Record):
    """The component ServersPage."""

    next: str | None
    results: list[ServerRow]


class Session(Record):
    """The component Session."""

    elsewhere: str | None
    passwords: bool
    person: Me | None


class SessionRow(Record):
    """The component SessionRow."""

    browser: str
    id: int
    last_used_at: str
    own: bool
    started_at: str


class SessionsPage(Record):
    """The component SessionsPage."""

    next: str | None
    results: list[SessionRow]


class ShelfBay(Record):
    """The component ShelfBay."""

    deprecated: int
    edges: list[int]
    place: int
    servers: int
    suspended: int
    team: str
    title: str
    waiting: int


class ShelfLargest(Record):
    """The component ShelfLargest."""

    tokens: int


class ShelfPicture(Record):
    """The component ShelfPicture."""

    bays: list[ShelfBay]
    largest: ShelfLargest
    on_shelf: int
    rows: list[ServerRow]
    servers: int
    tags: list[str]
    teams: list[TeamName]
    tools: int


class Side(Record):
    """The component Side."""

    basis: str
    digest: str
    file: str
    item: str
    server: str
    since: str


class Snapshot(Record):
    """All that a tool server declares at one moment; the MCP objects are kept as received."""

    captured: Record
    format: str
    prompts: list[Declared]
    resourceTemplates: list[Declared]
    resources: list[Declared]
    server: Record
    tools: list[Declared]


class StandIn(Record):
    """Whether tool b can take the place of tool a, and what is in the way."""

    a: str
    b: str
    format: str
    obstacles: list[Record]
    stands_in: bool | None


class Style(Record):
    """The component Style."""

    agreed_by: str | None
    at: str | None
    by: str
    digest: str
    loosened: list[str]
    may_answer: bool
    may_change: bool
    note: str
    read_as_same: list[list[str]]
    replaces: int
    state: str
    text: str
    version: int


class StyleEffect(Record):
    """What another house style would do to every current release of a catalog."""

    format: str
    loosened: list[str]
    newly_failing: list[Record]
    no_longer_failing: list[str]
    rules: list[Record]
    servers: int


class StyleRow(Record):
    """The component StyleRow."""

    agreed_by: str | None
    at: str | None
    by: str
    digest: str
    loosened: list[str]
    may_answer: bool
    note: str
    replaces: int
    state: str
    version: int


class Styles(Record):
    """The component Styles."""

    results: list[StyleRow]


class Summary(Record):
    """The component Summary."""

    progress: Progress | None
    results: list[SummaryRow]


class SummaryRow(Record):
    """The component SummaryRow."""

    counting: int
    family: str
    known: int
    level: str
    rule: str
    team: str
    team_title: str
    waived: int


class SuspendedItem(Record):
    """The component SuspendedItem."""

    at: str
    item: str
    reason: str


class SuspensionRow(Record):
    """The component SuspensionRow."""

    at: str
    by: str
    id: int
    item: str
    reason: str
    server: str


class SuspensionsPage(Record):
    """The component SuspensionsPage."""

    next: str | None
    results: list[SuspensionRow]


class TeamName(Record):
    """The component TeamName."""

    slug: str
    title: str


class TeamRow(Record):
    """The component TeamRow."""

    slug: str
    title: str


class TeamsPage(Record):
    """The component TeamsPage."""

    next: str | None
    results: list[TeamRow]


class TermForm(Record):
    """The component TermForm."""

    choices: list[str]
    form: str
    hint: str
    label: str
    name: str
    required: bool


class Terms(Record):
    """The component Terms."""

    data_class: str
    data_class_before: str
    kit: str
    purpose: str
    range: str
    reason: str
    replacement: str
    scheme: str
    scheme_before: str
    sunset_at: str | None
    team: str


class Timeline(Record):
    """The component Timeline."""

    steps: list[TimelineStep]


class TimelineStep(Record):
    """The component TimelineStep."""

    at: str
    changes: int
    impact: str | None
    silent: int
    since: str | None
    state: str
    version: str


class TokenRow(Record):
    """The component TokenRow."""

    created_at: str
    expires_at: str
    id: int
    last_used_at: str | None
    name: str
    scopes: list[str]


class TokensPage(Record):
    """The component TokensPage."""

    next: str | None
    results: list[TokenRow]


class ToldTeam(Record):
    """The component ToldTeam."""

    may_object: bool
    reasons: list[str]
    team: str
    until: str


class UserNoteRow(Record):
    """The component UserNoteRow."""

    answer: str
    answered_at: str | None
    answered_by: str | None
    at: str
    by: str
    may_answer: bool
    may_remove: bool
    number: int
    text: str


class UserNotes(Record):
    """The component UserNotes."""

    may_leave: bool
    results: list[UserNoteRow]


class Verified(Record):
    """The component Verified."""

    differences: list[str]
    entries: int
    fault: str
    head: str
    kept_at: str | None
    not_told: Record
    refused: list[str]
    unreadable: list[str]


class WaiverRow(Record):
    """The component WaiverRow."""

    answer_note: str
    answered_at: str | None
    answered_by: str | None
    asked_at: str
    asked_by: str
    id: int
    item: str
    may_answer: bool
    may_end: bool
    number: int
    pointer: str | None
    reason: str
    rule: str
    server: str
    state: str
    team: str
    until: str


class WaiversPage(Record):
    """The component WaiversPage."""

    next: str | None
    results: list[WaiverRow]


class WebhookRow(Record):
    """The component WebhookRow."""

    about: str
    address: str
    end_reason: str
    ended_at: str | None
    failures: int
    id: int
    lost: int
    made_at: str
    made_by: str
    may_keep: bool
    resting_until: str | None
    rotated_at: str | None
    team: str
    types: list[str]
    waiting: int


class Webhooks(Record):
    """The component Webhooks."""

    results: list[WebhookRow]


Assessment._records = {"changes": Change, "findings": Finding, "kits": KitHit, "overlaps": Overlap}
Behind._records = {"hit_items": KitHitItem}
ByDigest._records = {"releases": Approval}
ChangesSummary._records = {"groups": ChangeGroup, "items": ItemChanges}
Checked._records = {"assessment": Assessment}
CheckedMove._records = {"hit_items": KitHitItem}
CommentRow._records = {"answers": Said}
Comparison._records = {"changes": Change, "groups": ChangeGroup, "items": ItemChanges, "kits": KitHit}
Connection._records = {"suspended": SuspendedItem}
DeliveriesPage._records = {"results": DeliveryRow}
Deputies._records = {"results": DeputyRow}
DeskRow._records = {"members": DeskMember}
Desks._records = {"results": DeskRow}
Ending._records = {"kits": KitHit, "stand_ins": KitStandIn}
EventsPage._records = {"results": CloudEvent}
Findings._records = {"findings": Finding}
FollowUps._records = {"results": FollowUpRow}
Followings._records = {"results": FollowingRow}
Found._records = {"results": Hit}
GivenSignOff._records = {"conditions": FollowUpOfSignOff, "despite": Despite}
Group._records = {"members": Member, "overlaps": PairedOverlap, "ruling": RulingRow, "servers": Alike}
Groups._records = {"groups": Group}
Hit._records = {"name": Piece, "notes": HitNote, "parameters": Piece, "says": SaidWord, "text": Piece}
Inbox._records = {"results": InboxEntry}
Item._records = {"declared": Declared, "findings": Finding, "parameters": Line, "results": Line}
Items._records = {"findings": Finding, "items": Item}
KitCheck._records = {"asks": OwnerToAsk, "mix_ups": MixUp, "moves": CheckedMove, "problems": KitProblem}
KitDetail._records = {
    "behind": Behind,
    "history": KitLock,
    "lock": LockedItem,
    "mix_ups": MixUp,
    "picks": PickRow,
    "problems": KitProblem,
    "proposed": ProposedKit,
}
KitHit._records = {"hit_items": KitHitItem}
KitLock._records = {"moves": KitMove}
KitMatrix._records = {"cells": MatrixCell, "kits": MatrixKit, "servers": MatrixServer}
KitMoved._records = {"kit": KitDetail}
KitPut._records = {"waits_for": AskedOwner}
KitsPage._records = {"results": KitRow}
Known._records = {"proposed": ProposedKnown}
KnownForKit._records = {"items": KnownItem, "servers": KnownServer}
LastLook._records = {
    "came": MovedLine,
    "changes": Change,
    "conditions": FollowUpOfSignOff,
    "despite": Despite,
    "went": MovedLine,
}
Launch._records = {"package": Package}
LedgerPage._records = {"results": EntryRow}
Looks._records = {"results": LookRow}
MixUps._records = {"mix_ups": MixUp}
MixUp._records = {"a": Side, "b": Side}
NamedProposal._records = {"waits_for": AskedOwner}
NoticesPage._records = {"results": NoticeRow}
Overlap._records = {"a": Side, "b": Side}
OverlapMap._records = {"edges": Edge, "points": Point}
Overlaps._records = {"mix_ups": MixUp, "overlaps": Overlap}
PairedOverlap._records = {"a": Side, "b": Side}
People._records = {"results": PersonRow}
PersonRow._records = {"tokens": PersonToken}
Placed._records = {"finding": Finding}
PlacedPage._records = {"results": Placed}
ProposedKit._records = {"waits_for": AskedOwner}
ProposedKits._records = {"results": NamedProposal}
ProposedKnownList._records = {"results": ProposedKnown}
Publication._records = {
    "assessment": Assessment,
    "changes_summary": ChangesSummary,
    "comments": CommentRow,
    "kits": KitHit,
    "last_look": LastLook,
    "route": RouteDesk,
    "sign_offs": GivenSignOff,
    "tells": ToldTeam,
    "terms": Terms,
}
ReleaseComparison._records = {"changes": Change, "groups": ChangeGroup, "items": ItemChanges, "kits": KitHit}
ReleaseDetail._records = {"despite": AgreedDespite, "launch": Launch, "suspensions": SuspensionRow}
ReleaseHeld._records = {"kits": HeldBy}
ReleaseRow._records = {"launch": Launch}
ReleasesHeld._records = {"results": ReleaseHeld}
RequestDetail._records = {
    "assessment": Assessment,
    "changes_summary": ChangesSummary,
    "comments": CommentRow,
    "kits": KitHit,
    "last_look": LastLook,
    "route": RouteDesk,
    "sign_offs": GivenSignOff,
    "tells": ToldTeam,
    "terms": Terms,
}
RequestKind._records = {"terms": TermForm}
RequestKinds._records = {"results": RequestKind}
RequestsPage._records = {"results": RequestRow}
RouteDesk._records = {"agreed": Agreed}
RoutingRehearsal._records = {"desks": DeskLoad, "moved": MovedRequest}
RoutingVersions._records = {"results": RoutingRow}
Rule._records = {"bad": Snapshot, "good": Snapshot}
Rules._records = {"results": Rule}
RulingsPage._records = {"results": RulingRow}
ServerDetail._records = {"releases": ReleaseRow, "suspensions": SuspensionRow}
ServersPage._records = {"results": ServerRow}
Session._records = {"person": Me}
SessionsPage._records = {"results": SessionRow}
ShelfPicture._records = {"bays": ShelfBay, "largest": ShelfLargest, "rows": ServerRow, "teams": TeamName}
Snapshot._records = {
    "prompts": Declared,
    "resourceTemplates": Declared,
    "resources": Declared,
    "tools": Declared,
}
Styles._records = {"results": StyleRow}
Summary._records = {"progress": Progress, "results": SummaryRow}
SuspensionsPage._records = {"results": SuspensionRow}
TeamsPage._records = {"results": TeamRow}
Timeline._records = {"steps": TimelineStep}
TokensPage._records = {"results": TokenRow}
UserNotes._records = {"results": UserNoteRow}
WaiversPage._records = {"results": WaiverRow}
Webhooks._records = {"results": WebhookRow}
