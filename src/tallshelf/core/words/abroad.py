"""Orders to a reader in other languages than English, by what their words do: ignore, keep from, not ask, hand over.

A word that ends in an asterisk stands for all that begin with it. Verbs are in the forms by which somebody is told to
do something; a text that says what a tool does uses others.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal, NamedTuple

from tallshelf.core.words.lexicon import is_word
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import word_set

_WORD = Pattern(r"[^\W\d_]+")


class Tongue(NamedTuple):
    """The words of one language: verbs by which one is told to, and what they are about."""

    ignore: Sequence[str]
    rules: Sequence[str]
    tell: Sequence[str]
    never: Sequence[str]
    users: Sequence[str]
    without: Sequence[str]
    asking: Sequence[str]
    give: Sequence[str]
    talk: Sequence[str]


_TEXT = """
German
ignoriere ignorieren ignoriert vergiss vergesst missachte übergehe
anweisung* vorgabe* regel regeln instruktion* nachricht*
sag sage sagen erzähl erzähle verrate erwähne erwähnen teile informiere frag frage
nicht nichts nie niemals kein*
nutzer* benutzer* anwender* kund* niemand* jemand*
ohne
fragen rückfrage nachfrage zustimmung bestätigung erlaubnis informieren mitzuteilen
schick schicke sende übermittle füge kopiere schreib schreibe
gespräch* unterhaltung* chatverlauf* systemprompt* passwort* passwörter* zugangsdaten

French
ignore ignorez ignores oublie oubliez oublies néglige négligez
instruction* consigne* règle* message* directive*
dis dites dire parle parlez parles mentionne mentionnez informe informez révèle révélez demande préviens prévenez
ne n pas jamais rien
utilisat* client* personne usager*
sans
demander parler prévenir informer dire confirmer confirmation accord
envoie envoyez copie copiez transmets transmettez inclus incluez ajoute ajoutez écris écrivez
conversation* dialogue* historique passe identifiants

Spanish
ignora ignore olvida olvide omite omita
instruccion* órdenes reglas mensajes indicacion*
digas diga cuentes cuente menciones mencione informes informe reveles revele preguntes avises
no nunca jamás nada
usuari* client* nadie persona
sin
preguntar avisar decir informar consultar confirmación permiso
envía envíe manda mande copia copie incluye incluya pega pegue escribe escriba
conversaci* diálogo* historial contraseña* credenciales

Italian
ignora ignori ignorate dimentica dimentichi trascura
istruzioni regole indicazioni messaggi
dire dirlo dica menzionare menzioni informare informi rivelare riveli chiedere
non mai nulla niente
utente utenti cliente clienti nessuno
senza
chiedere dire avvisare informare conferma permesso
invia invii manda mandi copia copi inserisci includi scrivi
conversazion* dialogo cronologia password credenziali

Portuguese
ignore ignora esquece esqueça desconsidere desconsidera
instruç* orientaç* regras mensagens
diga digas conte contes mencione menciones informe informes revele reveles pergunte
não nunca jamais nada
usuári* utilizador* cliente* ninguém
sem
perguntar avisar dizer informar confirmação permissão
envia envie manda mande copia copie inclui inclua escreve escreva
conversa conversas diálogo* histórico senha* credenciais

Dutch
negeer vergeet
instructie* aanwijzing* regels opdracht* bericht*
vertel zeg noem meld informeer vraag
niet niets nooit geen
gebruiker* klant* niemand
zonder
vragen toestemming bevestiging overleg
stuur verzend kopieer plak schrijf
gesprek* conversatie* chatgeschiedenis wachtwoord* inloggegevens

Polish
zignoruj ignoruj zapomnij pomiń
instrukcj* poleceni* poleceń zasad* wiadomości wytyczn*
mów powiedz wspominaj informuj ujawniaj pytaj
nie nigdy nic nikomu
użytkowni* klient* nikomu
bez
pytania zgody wiedzy potwierdzenia
wyślij prześlij skopiuj wklej wpisz dołącz
rozmow* histori* hasł* logowania

Swedish
ignorera glöm bortse
instruktion* regler* anvisning* meddelande*
berätta säg nämn informera avslöja
inte inget ingenting aldrig
användar* kund* någon
utan
fråga säga berätta godkännande
skicka kopiera klistra skriv bifoga
samtal* konversation* historik* lösenord* inloggning*
"""
_BLOCKS = [block.split("\n")[1:] for block in _TEXT.strip().split("\n\n")]
TONGUES = tuple(Tongue(*(tuple(line.split()) for line in block)) for block in _BLOCKS)
_BY_VERB: dict[str, list[Tongue]] = {}
for _tongue in TONGUES:
    for _verb in {*_tongue.ignore, *_tongue.tell, *_tongue.without, *_tongue.give}:
        _BY_VERB.setdefault(_verb, []).append(_tongue)

_OF_ENGLISH = word_set("the of and with this that from than is are was were which when if or")
_OF_OTHERS = word_set("les des toute toutes las los todas todos tutte tutti os")
"""Little words by which a sentence is none in English, and by which it is none where its other words could be."""

# Languages that are written without spaces, by the signs themselves.
_ORDERS = Pattern(
    r"(?:指示|命令|ルール|プロンプト)[^。]{0,12}(?:無視|忘れ)|(?:無視|忘れ)[^。]{0,12}(?:指示|命令)|"
    r"(?:ユーザー|利用者|顧客|お客様)[^。]{0,10}(?:言わ|伝え|知らせ|明かさ|話さ|言及し)(?:ない|ず)|"
    r"(?:確認|許可|承認)(?:を[^。]{0,4})?(?:せず|なしに|取らず|得ず)[^。]{0,24}(?:ください|なさい)|"
    r"(?:忽略|无视|無視|忘记|忘掉)[^。]{0,10}(?:指示|指令|规则|規則|提示|命令)|"
    r"(?:不要|别|勿)[^。]{0,8}(?:告诉|告訴|告知|提及|透露|通知)|"
    r"(?:无需|不必|不用|未经|無需)[^。]{0,4}(?:确认|確認|同意|批准|询问)"
)
_ASKS = Pattern(
    r"(?:会話|チャット|パスワード|履歴)[^。]{0,16}(?:送って|含めて|入れて|貼り付けて)ください|"
    r"(?:发送|填入|附上|复制|粘贴)[^。]{0,12}(?:对话|聊天记录|密码|凭证)|"
    r"(?:对话|聊天记录|密码|凭证)[^。]{0,8}(?:发送|填入|附上|写入|放入)"
)


Kind = Literal["orders", "asks"]
_WRITTEN: tuple[tuple[Kind, Pattern], ...] = (("orders", _ORDERS), ("asks", _ASKS))


class Order(NamedTuple):
    """What is ordered or asked for, and where it stands."""

    kind: Kind
    start: int
    end: int


def order_abroad(sentence: str) -> Order | None:
    """Return what a sentence in another language orders its reader, or asks of them; None for most."""
    if not sentence.isascii():
        for kind, pattern in _WRITTEN:
            if match := pattern.search(sentence):
                return Order(kind, *match.span())
    said = {word.lower() for word in _WORD.findall(sentence)}
    if said.isdisjoint(_BY_VERB) or not said.isdisjoint(_OF_ENGLISH):
        return None
    words = [(match.group().lower(), match.span()) for match in _WORD.finditer(sentence)]
    for tongue in dict.fromkeys(tongue for word, _ in words for tongue in _BY_VERB.get(word, ())):
        for kind, classes in _ways(tongue):
            places = [place for one in classes if (place := _place(words, one)) is not None]
            foreign = not said.isdisjoint(_OF_OTHERS) or any(not is_word(word) for word, _ in places)
            if len(places) == len(classes) and foreign:
                spans = [span for _, span in places]
                return Order(kind, min(start for start, _ in spans), max(end for _, end in spans))
    return None


def _ways(tongue: Tongue) -> Iterator[tuple[Kind, tuple[Sequence[str], ...]]]:
    yield "orders", (tongue.ignore, tongue.rules)
    yield "orders", (tongue.tell, tongue.never, tongue.users)
    yield "orders", (tongue.without, tongue.asking)
    yield "asks", (tongue.give, tongue.talk)


_Word = tuple[str, tuple[int, int]]


def _place(words: Sequence[_Word], wanted: Sequence[str]) -> _Word | None:
    """Return the first of some words, and where it stands."""
    plain = {word for word in wanted if not word.endswith("*")}
    begun = tuple(word[:-1] for word in wanted if word.endswith("*"))
    return next(
        ((word, span) for word, span in words if word in plain or (begun and word.startswith(begun))), None
    )
