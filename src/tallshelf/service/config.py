"""Settings of a running service: a TOML file, and environment variables over it."""

from __future__ import annotations

import hashlib
import os
import secrets
import stat
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tallshelf.core.errors import BadArgument

FILE_NAME = "tallshelf.toml"
KEY_FILE = "secret.key"


@dataclass(frozen=True)
class Config:
    """How a service runs.

    ``data`` holds the database and the key file; ``fetch_allow`` the origins that the service
    may fetch, ``fetch_networks`` the private networks (CIDR) those may lead into. ``proxies`` is how
    many proxies stand in front, each adding to ``X-Forwarded-For``. A request that is overdue for
    ``rise_after_hours`` rises to the desk's lead; an account that makes more than ``calls_per_minute``
    is told to wait. A sign-in ends after ``session_hours``, and ``idle_minutes`` after its last use.
    ``refused_passwords`` is a file of passwords that nobody may choose, one a line; without
    ``passwords`` nobody signs in by one. With ``oidc_issuer``, people may sign in there (OpenID
    Connect): ``oidc_username_claim`` names the claim that holds their user name, and ``oidc_acr``
    the authentication contexts of which the issuer must name one. ``address`` is where people find the console, for
    links in mail and the source of events. Mail goes out through ``mail_host``, if there is one, and a digest at
    ``mail_digest_hour`` (UTC). Webhooks go to the origins of ``webhook_allow`` alone, which may lead into
    ``webhook_networks``.
    """

    data: Path
    host: str = "127.0.0.1"
    port: int = 8460
    address: str = ""
    allowed_hosts: tuple[str, ...] = ("127.0.0.1", "localhost")
    https: bool = False
    proxies: int = 0
    workers: int = 1
    log_format: str = "json"
    log_level: str = "info"
    capture_before_publish: bool = True
    rise_after_hours: int = 24
    calls_per_minute: int = 6000
    session_hours: int = 12
    idle_minutes: int = 120
    passwords: bool = True
    refused_passwords: str = ""
    fetch_allow: tuple[str, ...] = ()
    fetch_networks: tuple[str, ...] = ()
    fetch_tokens: Mapping[str, str] = field(default_factory=dict)
    mail_host: str = ""
    mail_port: int = 587
    mail_security: str = "starttls"
    mail_user: str = ""
    mail_password: str = field(default="", repr=False)
    mail_sender: str = ""
    mail_digest_hour: int = 7
    webhook_allow: tuple[str, ...] = ()
    webhook_networks: tuple[str, ...] = ()
    oidc_issuer: str = ""
    oidc_client_id: str = ""
    oidc_client_secret: str = field(default="", repr=False)
    oidc_authorization_endpoint: str = ""
    oidc_token_endpoint: str = ""
    oidc_jwks_uri: str = ""
    oidc_username_claim: str = "preferred_username"
    oidc_label: str = "the company's sign-in"
    oidc_acr: tuple[str, ...] = ()

    @property
    def source(self) -> str:
        """The service's address as it is told outside, without a slash at its end."""
        return self.address.rstrip("/") or f"http://{self.host}:{self.port}"

    @property
    def database(self) -> Path:
        return self.data / "tallshelf.sqlite3"

    @property
    def counts(self) -> Path:
        """Where worker processes count together: in memory if it can be, for a full disk would end who counts there."""
        name = f"tallshelf-{os.geteuid()}-{hashlib.sha256(os.fsencode(self.data)).hexdigest()[:12]}"
        for parent in (os.environ.get("RUNTIME_DIRECTORY", ""), "/dev/shm"):  # noqa: S108 - whose it is, is looked at
            path = Path(parent.partition(":")[0]) / name
            if parent and _is_ours(path):
                return path
        return self.data / "metrics"

    @property
    def key(self) -> str:
        """The signing key; made on first use, readable by its owner only."""
        path = self.data / KEY_FILE
        try:
            return path.read_text("ascii").strip()
        except FileNotFoundError:
            self.data.mkdir(parents=True, exist_ok=True)
            handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
            with os.fdopen(handle, "w") as out:
                out.write(secrets.token_urlsafe(64) + "\n")
            return path.read_text("ascii").strip()


_TABLES: dict[str, dict[str, tuple[str, type]]] = {
    "service": {
        "host": ("host", str),
        "port": ("port", int),
        "address": ("address", str),
        "allowed_hosts": ("allowed_hosts", list),
        "https": ("https", bool),
        "proxies": ("proxies", int),
        "workers": ("workers", int),
        "log_format": ("log_format", str),
        "log_level": ("log_level", str),
        "capture_before_publish": ("capture_before_publish", bool),
        "rise_after_hours": ("rise_after_hours", int),
        "calls_per_minute": ("calls_per_minute", int),
        "session_hours": ("session_hours", int),
        "idle_minutes": ("idle_minutes", int),
        "passwords": ("passwords", bool),
        "refused_passwords": ("refused_passwords", str),
    },
    "fetch": {
        "allow": ("fetch_allow", list),
        "networks": ("fetch_networks", list),
        "tokens": ("fetch_tokens", dict),
    },
    "mail": {
        "host": ("mail_host", str),
        "port": ("mail_port", int),
        "security": ("mail_security", str),
        "user": ("mail_user", str),
        "password": ("mail_password", str),
        "sender": ("mail_sender", str),
        "digest_hour": ("mail_digest_hour", int),
    },
    "webhooks": {"allow": ("webhook_allow", list), "networks": ("webhook_networks", list)},
    "oidc": {"acr": ("oidc_acr", list)}
    | {
        name: (f"oidc_{name}", str)
        for name in (
            "issuer",
            "client_id",
            "client_secret",
            "authorization_endpoint",
            "token_endpoint",
            "jwks_uri",
            "username_claim",
            "label",
        )
    },
}

_LEAST = {"proxies": 0, "workers": 1, "calls_per_minute": 1, "session_hours": 1, "idle_minutes": 5}
_CHOICES = {
    "log_format": ("json", "text"),
    "log_level": ("debug", "info", "warning", "error"),
    "mail_security": ("starttls", "tls", "none"),
    "mail_digest_hour": range(24),
}


def load_config(environ: Mapping[str, str]) -> Config:
    """Read the settings; raise `BadArgument` naming the file and the key at fault.

    ``TALLSHELF_DATA`` names the data directory; ``TALLSHELF_HOST``, ``TALLSHELF_PORT``,
    ``TALLSHELF_LOG_LEVEL``, ``TALLSHELF_MAIL_PASSWORD`` and ``TALLSHELF_ALLOWED_HOSTS`` (by commas) override the file.
    """
    data = Path(environ.get("TALLSHELF_DATA") or "tallshelf-data").resolve()
    values: dict[str, Any] = _read_file(data / FILE_NAME)
    if environ.get("TALLSHELF_HOST"):
        values["host"] = environ["TALLSHELF_HOST"]
    if environ.get("TALLSHELF_PORT"):
        try:
            values["port"] = int(environ["TALLSHELF_PORT"])
        except ValueError:
            raise BadArgument(f"TALLSHELF_PORT is {environ['TALLSHELF_PORT']!r}, not a number") from None
    if environ.get("TALLSHELF_LOG_LEVEL"):
        values["log_level"] = environ["TALLSHELF_LOG_LEVEL"]
    if environ.get("TALLSHELF_MAIL_PASSWORD"):
        values["mail_password"] = environ["TALLSHELF_MAIL_PASSWORD"]
    if environ.get("TALLSHELF_ALLOWED_HOSTS"):
        values["allowed_hosts"] = tuple(environ["TALLSHELF_ALLOWED_HOSTS"].split(","))
    for key, allowed in _CHOICES.items():
        if key in values and values[key] not in allowed:
            raise BadArgument(
                f"{key} is {values[key]!r}", remedy=f"It is one of {', '.join(map(str, allowed))}."
            )
    for key, least in _LEAST.items():
        if values.get(key, least) < least:
            raise BadArgument(f"{key} is {values[key]}", remedy=f"It is at least {least}.")
    config = Config(data=data, **values)
    needed = ("client_id", "authorization_endpoint", "token_endpoint", "jwks_uri")
    missing = [name for name in needed if config.oidc_issuer and not getattr(config, f"oidc_{name}")]
    if missing:
        raise BadArgument(f"[oidc] lacks {', '.join(missing)}", remedy="An issuer alone is not enough.")
    if not (config.passwords or config.oidc_issuer):
        raise BadArgument("without passwords nobody could sign in", remedy="Set an issuer: [oidc].")
    if config.mail_host and not config.mail_sender:
        raise BadArgument("[mail] lacks sender", remedy="Name the address that mail comes from.")
    if config.refused_passwords and not Path(config.refused_passwords).is_file():
        raise BadArgument(f"refused_passwords: there is no file {config.refused_passwords}")
    return config


def _read_file(path: Path) -> dict[str, Any]:
    try:
        tables = tomllib.loads(path.read_text("utf-8"))
    except FileNotFoundError:
        return {}
    except (OSError, ValueError) as fault:
        raise BadArgument(f"{path} cannot be read: {fault}") from None
    values: dict[str, Any] = {}
    for table, keys in tables.items():
        if table not in _TABLES or not isinstance(keys, dict):
            raise BadArgument(
                f"{path}: there is no table [{table}]", remedy=f"Tables are {', '.join(_TABLES)}."
            )
        for key, value in keys.items():
            if key not in _TABLES[table]:
                raise BadArgument(
                    f"{path}: [{table}] has no key {key!r}", remedy=f"Keys are {', '.join(_TABLES[table])}."
                )
            name, kind = _TABLES[table][key]
            if not isinstance(value, kind) or (kind is int and isinstance(value, bool)):
                raise BadArgument(f"{path}: [{table}] {key} must be {kind.__name__}, not {value!r}")
            values[name] = tuple(value) if isinstance(value, list) else value
    return values


def _is_ours(directory: Path) -> bool:
    """Whether a directory is there, or could be made, that nobody else can write in."""
    try:
        directory.mkdir(mode=0o700, exist_ok=True)
        there = directory.lstat()
    except OSError:
        return False
    return stat.S_ISDIR(there.st_mode) and there.st_uid == os.geteuid() and not there.st_mode & 0o077
