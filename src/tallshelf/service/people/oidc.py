"""Signing in through an OpenID Connect issuer: authorization code with PKCE, by Authlib.

The endpoints stand in the settings; nothing is discovered. What is fetched goes through the guarded fetch,
so the issuer's origin must be among those that the service may fetch.
"""

from __future__ import annotations

import hmac
import secrets
from dataclasses import asdict, dataclass
from typing import Any

from authlib.oauth2.rfc6749.parameters import prepare_grant_uri
from authlib.oauth2.rfc7636 import create_s256_code_challenge
from authlib.oidc.core import CodeIDToken
from django.conf import settings
from django.db import transaction
from joserfc import jwt
from joserfc.errors import JoseError
from joserfc.jwk import KeySet

from tallshelf.core.errors import Denied
from tallshelf.protocol import AddressPolicy, Bounds, HttpEndpoint, ask_json
from tallshelf.service import clock
from tallshelf.service.config import Config
from tallshelf.service.people.entries import write_entry
from tallshelf.service.people.models import Person, Role
from tallshelf.service.people.queries import actor_for

_ALGORITHMS = ["RS256", "PS256", "ES256", "Ed25519"]
_BOUNDS = Bounds(request_seconds=10.0, bytes=500_000)
_LEEWAY_SECONDS = 60
LASTS_SECONDS = 600


@dataclass(frozen=True)
class Attempt:
    """What one attempt to sign in is known by; it is kept in the session until the issuer answers."""

    state: str
    nonce: str
    verifier: str
    at: float

    def kept(self) -> dict[str, Any]:
        return asdict(self)


def is_on() -> bool:
    return bool(settings.CONFIG.oidc_issuer)


def begin(back: str) -> tuple[str, Attempt]:
    """Return the issuer's address to send somebody to, and the attempt; ``back`` is our own address."""
    config = _config()
    attempt = Attempt(
        secrets.token_urlsafe(24),
        secrets.token_urlsafe(24),
        secrets.token_urlsafe(48),
        clock.now().timestamp(),
    )
    address = prepare_grant_uri(
        config.oidc_authorization_endpoint,
        config.oidc_client_id,
        "code",
        redirect_uri=back,
        scope="openid profile",
        state=attempt.state,
        nonce=attempt.nonce,
        code_challenge=create_s256_code_challenge(attempt.verifier),  # type: ignore[no-untyped-call]
        code_challenge_method="S256",
        **({"acr_values": " ".join(config.oidc_acr)} if config.oidc_acr else {}),
    )
    return str(address), attempt


def finish(kept: dict[str, Any] | None, state: str, code: str, back: str) -> Person:
    """Return whom the issuer vouches for; raise `Denied` when it, the attempt or the account does not fit.

    Accounts are not made by signing in: somebody of that user name must be here, and be no CI account.
    """
    attempt = Attempt(**kept) if kept else None
    if attempt is None or not hmac.compare_digest(attempt.state, state) or not code:
        raise Denied("this sign-in was not begun here", remedy="Begin it again.")
    if clock.now().timestamp() - attempt.at > LASTS_SECONDS:
        raise Denied("this sign-in took too long", remedy="Begin it again.")
    config = _config()
    answer = ask_json(
        _endpoint(config.oidc_token_endpoint),
        _BOUNDS,
        {
            "grant_type": "authorization_code",
            "code": code,
            "redirect_uri": back,
            "client_id": config.oidc_client_id,
            "code_verifier": attempt.verifier,
            **({"client_secret": config.oidc_client_secret} if config.oidc_client_secret else {}),
        },
    )
    claims = _claims(config, str(answer.get("id_token", "")), attempt, str(answer.get("access_token", "")))
    return _account(str(claims.get(config.oidc_username_claim, "")), str(claims["sub"]))


def _claims(config: Config, id_token: str, attempt: Attempt, access_token: str) -> dict[str, Any]:
    keys = KeySet.import_key_set(ask_json(_endpoint(config.oidc_jwks_uri), _BOUNDS))  # type: ignore[arg-type]
    try:
        token = jwt.decode(id_token, keys, algorithms=_ALGORITHMS)
        code_i_d_token = CodeIDToken(
            token.claims,
            token.header,
            {
                "iss": {"essential": True, "value": config.oidc_issuer},
                "aud": {"essential": True, "value": config.oidc_client_id},
                "sub": {"essential": True},
                **({"acr": {"essential": True, "values": list(config.oidc_acr)}} if config.oidc_acr else {}),
            },
            {"nonce": attempt.nonce, "client_id": config.oidc_client_id, "access_token": access_token},
        )
        code_i_d_token.validate(now=int(clock.now().timestamp()), leeway=_LEEWAY_SECONDS)
    except (JoseError, ValueError, KeyError) as fault:
        raise Denied(f"the issuer's answer does not hold: {fault}", remedy="Tell a steward.") from None
    return dict(token.claims)


@transaction.atomic
def _account(username: str, subject: str) -> Person:
    """Return the account of that user name; from its first sign-in on it is only that subject's."""
    person = Person.objects.filter(username=username, is_active=True).exclude(role=Role.CI).first()
    if person is None:
        raise Denied(
            f"there is no account {username[:64]!r} here", remedy="A steward adds it, under that user name."
        )
    if not person.subject:
        person.subject = subject
        person.save(update_fields=["subject"])
        write_entry(
            actor_for(person, via="issuer"), "issuer-known", {"username": username, "subject": subject}
        )
    if person.subject != subject:
        raise Denied(
            f"the issuer knew {username!r} as somebody else before",
            remedy="If it is the same person, a steward switches the account off and on again.",
        )
    return person


def _endpoint(url: str) -> HttpEndpoint:
    config = _config()
    policy = AddressPolicy(frozenset(config.fetch_allow), tuple(config.fetch_networks))
    return HttpEndpoint(url, {"Accept": "application/json"}, policy)


def _config() -> Config:
    config: Config = settings.CONFIG
    if not config.oidc_issuer:
        raise Denied("this service has no issuer to sign in at", remedy="A steward sets one: [oidc].")
    return config
