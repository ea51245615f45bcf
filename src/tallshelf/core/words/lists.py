"""Word lists that rules on wording share: verbs, abbreviations, and verbs that mean the same."""

from __future__ import annotations

from tallshelf.core.words.classes import VERB_CLASSES
from tallshelf.core.words.split import word_set

_MORE_VERBS = """
accept access acknowledge activate adapt advance aggregate align allocate allow analyse analyze annotate answer
append apply approve archive ask assemble assess assist attach audit authenticate authorise authorize back backup
balance ban bind block bookmark boost build bulk bump buy calibrate call capture cast change charge chat check
checkin checkout choose cherrypick classify clean cleanup click clone collect combine comment commit compact compile
complete compose compress compute concatenate configure connect consume contact continue control convert copy
correct correlate crawl deactivate debit decide decline decode decompress decrypt deduplicate define defer demote
deny deploy deprecate derive designate detach detect determine diagnose diff dig disable discard disconnect dismiss
display distribute do draft drag draw drive drop dry duplicate echo embed emit enable encode encrypt enhance enqueue
ensure enter escalate escape evaluate examine exchange exclude execute expand expire explain explore extend extract
fail fill finalise finalize finish fix flag flatten flip flush focus fold follow force forecast forget fork format
forward freeze generate geocode give go grant grep group guess guide halt handle hash head help hide highlight hold
host hover identify ignore include increase increment index infer inform initialise initialize inject inspect
install integrate interpret intersect invite invoke join keep kick label learn leave lend limit link listen localise
localize lock log login logout maintain make manage map mark match measure merge migrate minify mint mirror mock
monitor mount multiply mute name navigate negotiate normalise normalize note offer open optimise optimize order
organise organize overlay override pack paginate paint park parse partition paste pause pay peek perform pick pin
ping place plan play plot poll pop populate postpone predict prepare press preview print prioritise prioritize probe
process produce profile project promote propose protect provide provision prune pull purchase push put quantify
query queue quit quote raise rank rate react rebase reboot rebuild recall receive recommend reconcile record recover
rectify redact redeem redirect redo reduce refer refine reflect refresh refund refuse regenerate reindex reject
relate reload relocate remind render renew reorder repair repeat rephrase replay replicate reply report reproduce
require rerun reschedule reserve reset resize resolve respond restart restore restrict retract retry return reverse
revert review rewind rewrite roll rollback rotate round route sample sanitise sanitize save scale scan schedule
score scrape screenshot scroll seed see select sell separate setup serialise serialize serve share shift ship show
shrink shuffle shutdown sign signin signup simulate skip sleep slice snapshot snooze solve sort source spawn specify
spell split stage stamp stash stat step store stream stress stringify strip structure subscribe subtract suggest sum
supply support suppress swap switch sync synchronise synchronize tag tail take tap target teardown tell template
terminate test think throttle tick toggle tokenize trace track train transcode transcribe transfer transform
translate transpose traverse trim truncate try tune turn type unarchive unassign unban unbind unblock uncancel
undelete undeploy undo unfollow unfreeze unhide uninstall union unlink unlock unmount unmute unpack unpin unpublish
unreserve unset unshare unstage unsubscribe untag unwatch upgrade upsert use vacuum verify visit vote wait wake walk
warm watch weigh whitelist win wipe withdraw wrap zip zoom is are has can should must may will was compare cook
declare delegate drain emphasise emphasize encourage establish evict exec exit extrapolate feed fund gather grade
greet harvest incorporate insure iterate jump lint mail moderate mute negate nominate onboard offboard operate
paraphrase patrol persist pipe polish preserve proofread proxy quarantine recap refill reformat relay remember remix
renumber rent research resubmit retire revise rollback rollout sail sanction secure settle shadow shorten signal
silence sketch smooth sniff sound speak spin squash standardise standardize stitch study summon survey teach tear
tidy touch trade triage uncover undo unify unmerge unzip vet visualise visualize weave wire
transition whoami gzip gunzip unzip tar untar rsync chmod chown curl who what where when how
"""
VERBS = frozenset(_MORE_VERBS.split()) | frozenset().union(*VERB_CLASSES.values()) - {
    "all",
    "new",
    "info",
    "total",
}
_VERB_ENDINGS = ("ify", "ise", "ize")
_MEANS = {
    word: words
    for words in (
        "get fetch retrieve read load obtain",
        "find search lookup query locate",
        "create add new insert make",
        "delete remove erase destroy drop",
        "update edit modify change amend",
        "list enumerate browse",
        "send dispatch transmit",
        "start begin launch",
        "stop halt end terminate",
        "check verify validate",
        "calculate compute",
    )
    for word in words.split()
}
_ABBREVIATIONS = word_set(
    "api url uri html css xml json csv tsv pdf png svg jpg gif http https tcp udp ip dns tls ssl ssh "
    "ftp sftp smtp sql db crud id uuid ids gps sms mms cpu gpu ram ssd hdd os ui ux cli sdk vpn vm vms "
    "lan wan nfc rfid qr ocr pr mr ci cd csr crm erp hr kpi sla slo faq rss tv cv dr mr mrs st nd rd th "
    "am pm utc gmt eta etd ok vs pdf mcp llm ai ml nlp rag tls jwt mfa otp sso ldap kms dlp md txt yml "
    "toml ini gb mb kb tb hz khz ghz kw kwh btc eth usd eur gbp kg km cm mm nm mph kph rpm ppm psi"
)


def is_verb(word: str) -> bool:
    """Whether a lower-case word is a verb that a tool's name may begin with."""
    return word in VERBS or (len(word) > 5 and word.endswith(_VERB_ENDINGS))


def same_verb(one: str, other: str) -> bool:
    """Whether two verbs mean the same to a reader."""
    return one == other or (one in _MEANS and _MEANS[one] == _MEANS.get(other))


def known_abbreviation(word: str) -> bool:
    """Whether an abbreviation is known everywhere."""
    return word in _ABBREVIATIONS
