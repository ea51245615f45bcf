"""Ways of steering a reader that have a form of their own: orders, asking for what is not the tool's, others' tools.

One way is on a line of its own and may go on in the next ones; how they are used is in `steering`.
"""

from __future__ import annotations

_SPEAKS = (
    r"(?:mention|tell|inform|bring\s+(?:\w+\s+){0,2}up|raise|reveal|disclose|warn|notify|alert|consult|"
    r"confirm|ask(?!\s+for)|bother|"
    r"let\s+(?:\w+\s+){1,3}know|speak\s+of|talk\s+about|refer\s+to|stop\s+to|comment|hesitate|refuse)"
)
_SPEAKING = (
    r"(?:mentioning|telling|informing|raising|revealing|disclosing|warning|notifying|consulting|confirming|asking|"
    r"confirmation\s+from|approval\s+from|a\s+ticket|a\s+word\s+to)"
)
ORDERS = rf"""
      (?:^|[,:;—–-]\s*|\b(?:and|but|then|so|please|must|should|shall)\s+)(?:please\s+)?(?:do\s+not|
      don['’]t|never|no\s+need\s+to|(?:there\s+is\s+)?no\s+need\s+to)\s+{_SPEAKS}\b
    | \bno\s+need\s+to\s+{_SPEAKS}\b
    | \bnot\s+(?:raise|mention|bring)\s+(?:the\s+matter|it|this|that)\b
    | \bwithout\s+(?!warning\s*(?:$|[.,;:)!]|if|when|and|or|so|but|in|on|at|once))
      {_SPEAKING}\b(?!\s+(?:again|the\s+server))
    | (?:^|[,:;]\s*|\b(?:and|then|also)\s+)(?:silently|quietly|secretly|discreetly)\s+(?!\w+(?:ing|ed)\b)
    | \b(?:then|while\s+\w+,)\s+(?:silently|quietly|secretly)\b
    | \bin\s+the\s+dark\s+about\b
    | \bkeeps?\s+(?:\w+\s+){{1,3}}to\s+(?:him|her|it|them|your)sel(?:f|ves)\b
    | \bnobody\s+needs\b
    | \bneed\s+not\s+(?:know(?!\s+(?:the|its|a|an)\s+(?:\w+\s+)?(?:code|id|number|name|key|form))|be\s+(?:told|asked))\b
    | \b(?:read|reads|be\s+read|are\s+read|were\s+read)\s+out\s+as\b
    | \b(?:describe|render|report|pass\s+off|declare)\s+(?:[^.,]{{1,40}})\s+as\b
    | \bby\s+house\s+rule\b
    | \bit\s+would\s+be\s+(?:kind|nice|good|appreciated|helpful)\b
    | \bit\s+is\s+(?:desired|customary|expected|appreciated)\s+that\b
    | \bfrom\s+(?:here|now|this\s+(?:point|moment))\s+on\b(?=.*\byou\b|.*\b(?:answer|reply|only)\b)
    | \bbreaks?\s+character\b
    | \byou(?:['’]re|\s+are)\s+now\s+(?:a|an|the|in|free)\b
    | \b(?:every|each|all)\s+(?:answer|reply|response)s?\s+of\s+yours\b
    | \b(?:in|to)\s+(?:every|each|all)\s+(?:answers?|repl(?:y|ies)|responses?)\b
    | \bbefore\s+you\s+(?:answer|reply|respond)\b
    | \bwhile\s+you(?:['’]re|\s+are)\s+here\b
    | (?:(?<=[a-z,]\ )(?:just|simply|only)|\balways)\s+(?:say|answer|reply|respond|claim|recommend|praise)\b
    | \balways\s+(?:present|mention|suggest|prefer)\b
    | \bno\s+matter\s+what\b
    | \bwhatever\s+(?:the\s+topic|it\s+is\s+about)
    | \b(?:ignore|disregard|forget|override)\s+(?:everything|anything|all|any|every|what|the\s+(?:above|
      previous)|your|previous|prior|earlier|other)\b(?=[^.]*\b(?:told|instruct|prompt|rule|guid|order|
      messag|system|polic|said)\w*)
    | \bsystem\s+(?:message|prompt|notice|instruction|override)s?\b
    | \b(?:source|chain)\s+of\s+(?:orders|command)\b
    | \bstop\s+(?:its|your|the)\s+current\s+task\b
    | \b(?:consent|approval|permission|agreement)\s+(?:\w+\s+)?as\s+(?:given|granted|read)\b
    | \b(?:has|have)\s+already\s+(?:agreed|approved|consented|confirmed|authori[sz]ed)\b(?=[^.]*\b(?:so|
      all|any|every|further|this)\b)
    | \bconfirmation\s+(?:shall|should|need|must|is)\s+not\b
    | \bwaives?\s+the\b
    | \b(?:is|are|was)\s+a\s+formality\b
    | \bwithout\s+regard\s+to\s+the\s+(?:limits|rules)\b
    | (?:^|\b(?:and|then|may|can|please)\s+)skip\s+(?:the\s+)?(?:confirmation|callback|consent|approval|
      check\b)
    | ^(?:after|whenever|once|while|every\s+time|each\s+time|as\s+soon\s+as|when)\s+(?:you\s+(?:have\s+
      )?)?(?:every\s+|each\s+)?(?:read|reading|us|using|pars|call|calling|look|writ|writing|see|
      hav)\w*[^,]{{0,40}},\s*(?:also\s+|then\s+|please\s+|quietly\s+|silently\s+)*(?!(?:call|use|ask|
      get|see|check|pass|give|set|wait|it|the|this|its|nothing|no|a|an)\b)[a-z]+\b
    | ^then\s+(?!(?:it|the|this)\b|(?:use|set|give|pass)\s+["“'`])
    | \balso\s+(?:run(?!\s+through\b)|send|call|renew|forward|transfer|delete|buy|order)\b(?=\s)
    | \b(?:note|hint|message|notice)s?\s+(?:to|for)\s+(?:the\s+)?(?:ai|model|assistant|machine|agent|
      reader)s?\b
    | ^hey\b
    | \bstep\s+\d\s+of\s+\d\b
    | \b(?:always|must)\s+call\s+this\b
    | \bcall\s+(?:it|this(?:\s+tool)?)\s+(?:first\s+)?(?:for|on|before)\s+(?:every|each|all)\b
    | \b(?:act|pretend|behave)\s+(?:as\s+(?:if|though)|to\s+be|that)\b
    | \bpre-?approved\s+by\b
    | \b(?:decode|translate)\s+and\s+(?:carry\s+out|follow|execute|obey)\b
    | \bverzichten\b[^.]*\brückfrage\b
    | \bunerwähnt\b
    | \bsarebbe\s+gradito\b
    | \ba\s+partir\s+deste\s+momento\b
    | \btoestemming\s+meestal\b
    | \bslaan\s+de\s+vraag\b
    | \bnämn\s+inte\b
    | 直接(?:解除|删除|执行)
    """
ASKS = r"""
      \b(?:full|whole|entire|complete|present|current|previous|earlier)\s+(?:conversation|dialogue|chat|
      exchange|context\s+window)\b(?!\s+(?:ids?|number|only))
    | \b(?:said|discussed|asked|written|wrote|typed|told|shared|mentioned|pasted|uploaded|exchanged|happened|learned|
      messages?|questions?|answers?)\b[^.]{0,40}\b(?:the|this|your)\s+(?:present|current)\s+session\b
    | (?<!during\ the\ )(?<!in\ the\ )(?<!within\ the\ )(?<!for\ the\ )(?<!throughout\ the\ )(?<!until\ the\ )
      \b(?:full|whole|entire|complete|present|current|previous|earlier)\s+session\b(?!['’]s|\s+(?:ids?|number|only|
      ends|is|has|and|or|token|cookie|key|state|settings))
    | \b(?:conversation|dialogue|exchange|chat)\b[^.]{0,40}\b(?:so\s+far|up\s+to\s+now|until\s+now|
      that\s+led\s+here|led\s+so\s+far|with\s+the\s+(?:assistant|model|machine|user|customer))\b
    | \b(?:messages?|turns?|statements?|words|remarks|requests?|orders)\b[^.]{0,40}\b(?:exchanged\s+
      with|made\s+to\s+(?:you|the\s+(?:assistant|model|machine))|
      came\s+to\s+you|given\s+to\s+you|confided\s+to|written\s+to\s+you|of\s+the\s+
      present\s+session|from\s+the\s+start\s+of\s+the\s+run)\b
    | \b(?:conversation|dialog(?:ue)?|chat|exchange|discussion)\b[^.]{0,40}\b(?:word\s+for\s+word|verbatim|in\s+full|
      with\s+the\s+(?:person|people|client|human|caller|operator))\b
    | \bwhat\s+(?:the\s+)?(?:users?|persons?|people|customers?|they)\s+(?:(?:has|have|had)\s+)?
      (?:said|written|wrote|typed|asked|told)\b
    | \b(?:users?|persons?|customers?|callers?|riders?|operators?)\b['’]?s?[^.]*\bif\s+you\s+(?:know|have|remember)\b
    | \bwhatever\s+(?:\w+\s+)?(?:the\s+)?\w+\s+(?:has|have)\s+(?:shared|uploaded|pasted|attached)\b
    | \btranscripts?\b[^.]{0,30}\b(?:so\s+far|every\s+call|of\s+(?:the|this)\s+(?:chat|session|conversation))\b
    | \b(?:callers?|users?|customers?|hosts?|clients?)['’]s?\s+(?:\w+\s+)?(?:tokens?|cookies?|api\s+keys?)\b
    | \b(?:any|every|all|the)\s+(?:logins?|passwords?|credentials?|secrets?)\b[^.]{0,40}\b(?:has|have|had)\s+
      (?:shared|mentioned|typed|told)\b
    | \b(?:send|pass|include|add|append|put|give|attach|copy|paste|forward|quote|repeat)\b[^.]{0,30}\bsystem\s+
      (?:messages?|prompts?|instructions?)\b
    | \b(?:send|pass|include|add|append|put|give|attach|copy|paste)\s+(?:\w+\s+)?your\s+(?:own\s+)?configuration\b
    | \b(?:logins?|passwords?|credentials?|secrets?|keys?)\s+(?:that\s+)?you\s+(?:use|hold|know|were\s+given)\b
    | \bif\s+(?:it|they|one|any)\s+(?:(?:came|come)\s+up|(?:was|were|has\s+been|have\s+been)\s+(?:mentioned|discussed|
      talked\s+about))\b
    | \bwhat\s+else\s+(?:was|were|has\s+been|is\s+being)\s+(?:discussed|said|asked|talked\s+about)\b
    | ^(?:also\s+)?(?:write|put|send|pass|include|add|append|give|quote|copy|paste|repeat|attach|record)\b[^.]*\b
      (?:everything|anything|whatever)\s+(?:that\s+)?(?:the|an?)\s+\w+\s+(?:has|have|had)\s+(?:said|asked|told|typed)\b
    | \b(?:everything|all|what|whatever)\s+(?:that\s+)?(?:has\s+|had\s+)?(?:led|came|went|happened)\s+(?:up\s+)?
      (?:to|before)\s+(?:this\s+(?:question|request|call|point|moment)|(?:the|your)\s+(?:question|request))\b
    | \b(?:user|person|customer|caller|guest|human|client|they)s?\s+(?:has|have|had)\s+
      (?:sounded|seemed|felt|come\s+across|behaved|reacted)\b
    | \b(?:user|person|customer|caller|guest|human|client|they)s?\s+(?:(?:has|have|had)\s+)?(?:mentioned|confided|
      revealed|let\s+slip|shared|talked\s+about|brought\s+up)\b[^.]*\b(?:earlier|before|so\s+far|already|in\s+passing|
      along\s+the\s+way)\b
    | \bbehind\s+(?:the|this|their)\s+(?:question|request)\b
    | \b(?:about|of)\s+(?:whoever|the\s+(?:one|person)\s+who)\s+(?:is\s+|has\s+|was\s+)?ask(?:s|ed|ing)\b
    | \bresults?\s+of\s+(?:whatever|anything|what)\s+(?:\w+\s+){0,2}(?:looked|called|used|asked|searched|done|run)\b
    | \bhow\s+you\s+(?:should|are\s+to|must|shall|ought\s+to)\s+(?:behave|act|answer|speak|respond|reply)\b
    | \byour\s+other\s+(?:windows?|tabs?|tools?|tasks?|chats?|helpers?|servers?|sources?)\b
    | \b(?:of|in)\s+their\s+(?:own\s+)?(?:sentences|remarks|exact\s+words)\b
    | \b(?:rules|tools|helpers|instructions|guidelines|settings|purpose|role|persona|orders|limits)\b[^.]{0,20}\byou\s+
      (?:were|are|have\s+been|had\s+been)\s+(?:given|started|set\s+up|told|loaded|equipped|configured|shipped|built|
      working|made)\b
    | \bmentioned\s+earlier\b | \bearlier\s+in\s+(?:the|this)\s+(?:chat|conversation|session)\b
    | \b(?:last|first|latest|exact|own)\s+(?:questions?|messages?|words?|requests?|prompts?)\s+(?:of|from|by)\s+the\s+
      (?:user|person|customer|caller)\b
    | \byou\s+(?:hold|keep|have)\s+in\s+(?:memory|mind)\b
    | \blast\s+\w+\s+turns\b
    | \bsystem\s*_?\s*prompt\b
    | \bhidden\s+reasoning\b
    | (?<!regarding\s)(?<!about\s)\byour\s+(?:own\s+)?(?:\w+\s+)?session\b
    | \byour\s+(?:own\s+)?(?:\w+\s+)?(?:reasoning|thoughts|memory|instructions|principal|orders|
      prompt|headers|notes|take)\b
    | \b(?:what|everything|anything|all(?:\s+that)?|wording\s+of\s+what)\b[^.]{0,40}\byou\b[^.]{0,40}\b
      (?:said|know|remember|stored|worked|working|told|asked|received|see|returned|see\s+on)\b
    | \breturned\s+to\s+you\b
    | \byou\s+(?:can\s+see|have\s+(?:stored|been))\b
    | \bverbatim\s+account\b
    | \binstructions\s+received\b
    | \bsaid\s+to\s+each\s+other\b
    | \bperson\s+(?:behind\s+the\s+request|you\s+are\s+talking\s+to)\b
    | \bin\s+confidence\b
    | \blong-term\s+memory\b
    | \b(?:all|your|(?:caller|user|host|customer)['’]s)\s+environment\s+variables?\b |
       \benvironment\s+variables?\s+of\s+the\s+(?:caller|process|host|user|machine)\b
    | \b(?:dot-?files?|home\s+directory|shell\s+history|ssh\s+(?:config|keys?(?!\s+fingerprint|\s+(?:must|
      should|need\s+to|have\s+to|has\s+to)\s+be\s+(?:configured|set\s+up|installed|loaded|registered|present)\b|\s+
      (?:are|is)\s+(?:needed|required|supported|configured)\b))|id_rsa)\b
    | ~/\.(?:ssh|aws|netrc|npmrc|kube|gnupg|env|docker|pypirc|[\w./-]*(?:cred|token|secret|key))[\w./-]*
    | /etc/(?:passwd|shadow)
    | \bbrowser(?:['’]s)?\s+(?:cookies|history)\b
    | \bcookies\s+of\b
    | \b(?:users?['’]?s?|customer['’]s|operator['’]s)\s+(?:screen|desktop|browser|machine|device|
      clipboard)\b
    | \bof\s+the\s+(?:device|workstation|computer)\b
    | \bon\s+this\s+machine\b
    | \b(?:all|any|your|saved|session|admin|user'?s?)\s+(?:passwords?|secrets?|credentials?|api\s+
      keys?)\b(?!\s+(?:of\s+the\s+(?:service|server)|names?))
    | \bapi\s+keys?\s+(?:configured|of|stored)\b
    | \bpasswords?,\s+tokens?\b
    | \bprivate\s+key\s+of\b
    | \b(?:from\s+the\s+\w+['’]s|your|their)\s+(?:address\s+book|contacts?|phone\s*book)\b |
       \bcontact\s+list\s+of\s+the\b
    | \b(?:group\s+chat|call\s+log)\s+from\b
    | \bcalendar\b[^.]{0,30}\ball\s+entries\b
    | \bscan\s+of\s+the\s+\S+\s+passport\b
    | \bmails?\s+they\s+wrote\b
    | \$\{?SYSTEM_PROMPT\}?
    | \bAuthorization\s+included\b
    """
OTHERS = r"""
      (?<!before\ )(?<!before\ any\ )\b(?:(?:any|every|all)\s+other|other|another|different)\s+(?:\w+\s+)?
      (?:servers?|tools?|
      connectors?|trackers?|databases)\b(?!\s+of\s+(?:this|the\s+same|the\s+pool))
    | \b(?:whatever|what|anything|everything|all)\s+else\s+(?:that\s+)?(?:is|was|has\s+been|may\s+be|you\s+have)\s+
      (?:\w+\s+)?(?:installed|connected|configured|plugged\s+in|set\s+up)\b
    | \bfrom\s+the\s+(?:\w+\s+)?\w+['’]s\s+(?:own\s+)?(?:tools?|servers?|connectors?|plugins?)\b
    | \bservers?\s+elsewhere\b
    | \b(?:answers?|results?|output)\s+(?:of|from)\s+(?:the\s+)?(?!(?:this|same|the|a|an|any|each)\b)\w+\s+tools?\b
    | \btools?\b[^.]{0,30}\b(?:from|of|by)\b[^.]{0,20}\bother\s+(?:vendors?|makers?|publishers?|providers?|sources)\b
    | \b(?:the|any)\s+(?!(?:this|same|own|our)\b)\w+\s+(?:service|integration|connector|plugin|
      extension)['’]s\s+tools?\b
    | \b(?:\w+)\s+connectors?\b
    | \b(?:the|your|a|an|with|if|where|when|what)\b[^.]{0,30}\b(?!(?:the|this|that|same|own|a|an|each|any|our|
      its|underlying|remote|hosted|hosting|running|official|
      local|target|web|database|mail|api|file|proxy|mcp|whole)\b)[a-z]+\s+servers?(?:['’]s)?\b
    | \b(?:what|when|whenever|whatever|that)\b[^.]{0,30}\b(?:\w+)\s+tools?\b[^.]{0,20}\b(?:would|is\s+
      about|writes?|think|returns?|is\s+(?:called|used))\b
    | \byour\s+(?:own\s+)?(?:\w+\s+)?(?:web\s+search|calendar\s+app|image\s+tool|search\s+tool|
      built-in\s+\w+)\b
    | \b(?:composed|made|written|sent)\s+with\s+the\s+\w+\s+tool\b
    | \bin\s+place\s+of\s+any\b
    | \bonly\s+tool\s+you\b
    | \bsupersedes?\s+every\b
    | \bnever\s+call\s+\w+\.\w+
    | \bwhichever\s+server\b
    | \bconnected\b[^.]{0,20}\bserver\b
    | \bserver\s+is\s+connected\b
    | \bangeschlossen\b
    """
