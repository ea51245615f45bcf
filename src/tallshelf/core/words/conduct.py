"""What is told of the reader's conduct as if it were so: what is pointless, kind, customary, never missed.

A tool's text may judge values and calls; how one behaves towards people, and what they would mind, is not its matter.
"""

from __future__ import annotations

_PEOPLE = (
    r"(?:they|people|users?|owners?|guests?|customers?|clients?|callers?|everyone|everybody|anyone|anybody|nobody|"
    r"no one|(?:(?:the|most) )?[a-z]{3,}s)"
)
_TELLING = (
    r"(?:mention|repeat|explain|say|stat|tell|relay|report|disclos|announc|discuss|rais|bring|bother|troubl|"
    r"burden|question|doubt|second-guess|apologi[sz])"
)
_REMARKS = (
    r"(?:disclaimers?|caveats?|mention|comment|explanation|apolog(?:y|ies)|excuses?|warnings?|qualification)"
)
_NOT_CALLS = r"(?! (?:(?:the|a|this|such|same|it) )*(?:calls?|requests?|quer(?:y|ies)|search(?:es)?)\b)"
_LITTLE = r"(?:no|little|not much|hardly any|scarcely any|small)"
_GOOD = (
    r"(?:best|better|kind(?:er|est)?|wise(?:r|st)?|nice(?:r|st)?|gentle(?:r|st)?|polite(?:st)?|customary|courteous|"
    r"tactful|prudent|good (?:form|manners|style)|appreciated)"
)

_POINTLESS = (
    (
        "needs need requires calls deserves merits",
        rf"\b(?:needs?|requires?|calls? for|deserves?|merits?) (?:no|little) (?:further )?{_REMARKS}\b"
        rf"|\b(?:nothing|none|little)\b[^.,;]{{0,40}} (?:needs?|deserves?|merits?) {_TELLING}ing\b"
        rf"|\b(?:do(?:es)? not|don['’]t|doesn['’]t) (?:need|deserve|merit) {_TELLING}ing\b",
    ),
    (
        "point sense reason cause",
        rf"\b{_LITTLE} (?:point|sense|reason|cause) (?:in |to |for )(?:\w+ )?{_TELLING}\w*\b{_NOT_CALLS}",
    ),
    (
        "nothing",
        r"\bnothing (?:to|that (?:should|need|needs to)) (?:trouble|bother|worry|alarm|burden|upset) (?:the |"
        r"an? )?\w+",
    ),
    (
        "wastes waste",
        r"\bwastes? (?:\w+ )?(?:people|every(?:one|body)|the \w+)['’]?s? time\b",
    ),
)
"""What need not be said, and nobody should be troubled with."""
_GOOD_FORM = (
    (
        "best better kind kinder kindest wise wiser wisest nice nicer nicest gentle gentler gentlest polite politest "
        "customary courteous tactful prudent good appreciated",
        rf"\bit(?:['’]s| is| would be) (?:\w+ )?{_GOOD} to (?:let|leave|keep|hide|soften|wait|delay|round|tone|spare|"
        rf"{_TELLING}e?)\b"
        rf"|\b(?:is|are) {_GOOD} (?:described|called|presented|put|explained|sold|framed|passed off) as\b",
    ),
    (
        "way",
        r"\bgoes a long way (?:here|with|towards?)\b",
    ),
    (
        "happy",
        rf"\bkeeps? {_PEOPLE} (?:happy|calm)\b",
    ),
    (
        "light",
        r"\bin an? (?:poor|bad|good|better|worse|negative|favou?rable|unfavou?rable) light\b",
    ),
    (
        "pressed pushed",
        r"\bonly (?:if|when) (?:pressed|pushed)\b",
    ),
    (
        "news",
        r"\b(?:bad|unwelcome|unpleasant|awkward) news\b[^.,;]{0,20}\b(?:waits?|keeps?|later)\b",
    ),
)
"""How one behaves, told as what is good or usual."""
_MINDED = (
    (
        "object mind notice complain ask check",
        rf"\b{_PEOPLE} (?:will |would )?(?:rarely|seldom|hardly(?: ever)?|scarcely) (?:objects?|minds?|"
        r"notices?|complains?|(?:asks?|checks?)(?=\W*$|[,;]))\b",
    ),
    (
        "dislike dislikes hate hates resent resents tire tires",
        rf"\b{_PEOPLE} (?:dislikes?|hates?|resents?|tires? of) (?:\w+ )?(?:prompts?|questions?|being asked|"
        r"confirmations?|interruptions?|dialogs?)\b",
    ),
    (
        "missed",
        r"\b(?:won['’]t|will not|will hardly|would not|wouldn['’]t) be missed\b",
    ),
    (
        "fuss ado ceremony",
        r"\bwithout (?:much |any |further )?(?:fuss|ado|ceremony)\b",
    ),
    (
        "read granted presumed assumed",
        r"\b(?:approval|consent|permission|agreement|assent)\b[^.,;]{0,20} (?:may|can|should|is to|could) "
        r"(?:\w+ )?be (?:taken (?:as read|for granted)|presumed|assumed|inferred)\b",
    ),
)
"""What people would not mind, and what may be taken as given."""
_HANDED_ON = (
    (
        "your",
        r"\b(?:of|in|into|with) your (?:next|following|later) "
        r"(?:requests?|calls?|messages?|turns?|answers?|repl(?:y|ies))\b",
    ),
    (
        "preceded followed accompanied",
        r"\b(?:call|request|answer|reply)s? (?:should|must|is to|has to) be "
        r"(?:preceded|followed|accompanied) by an? (?!call\b)",
    ),
    (
        "copy word",
        r"\b(?:copy|word|note|line|summary|report) (?:of \w+ )?(?:to|for) (?:\w+ ){0,4}(?:at )?[\w.+-]+@[\w-]+\.",
    ),
    (
        "whatever",
        r"\bwhatever (?:\w+ )?(?:files?|tabs?|documents?|windows?)? ?(?:the \w+|they|you) (?:has|have) open\b",
    ),
    (
        "outranks outrank overrules trumps precedence counts",
        r"\b(?:outranks?|overrules?|trumps?|takes? precedence over|counts? (?:for )?more than) "
        r"(?:what(?:ever)?|anything|everything) (?:\w+ ){0,3}(?:asked|told|said|wanted|instructed|agreed)\b",
    ),
    (
        "guidance instructions rules directions",
        r"\b(?:earlier|previous|prior|other|former) (?:guidance|instructions|rules|directions) (?:is|are|was|were|be) "
        r"(?:set aside|dropped|forgotten|put away|lifted|ignored)\b",
    ),
    (
        "rest remainder duration",
        r"\byou are (?:now )?(?:the|a|an|our)\b[^.,;]{2,50} for the (?:rest|remainder|duration) of\b",
    ),
    (
        "carried obeyed executed acted",
        r"\b(?:words|texts?|sentences?|remarks|whatever)\b[^.,;]{0,40} (?:is|are) to be "
        r"(?:carried out|obeyed|executed|followed|acted (?:up)?on)\b",
    ),
    (
        "ours",
        r"\bours? (?:comes?|goes|go|belongs?|ranks?) (?:first|on top|ahead)\b",
    ),
    (
        "competing rival",
        r"\b(?:competing|rival) (?:tools?|servers?|connectors?|plugins?)\b",
    ),
)
"""What is carried on, put before what people asked, and set against others."""
CONDUCT = (*_POINTLESS, *_GOOD_FORM, *_MINDED, *_HANDED_ON)
