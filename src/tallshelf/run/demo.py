"""``tallshelf demo``: a service with made-up data, or the whole job played without a person."""

from __future__ import annotations

import argparse
import os
from pathlib import Path

from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, Conflict, Unreachable
from tallshelf.run.ports import is_free
from tallshelf.run.scenario.issuer import CLIENT
from tallshelf.run.scenario.people import ACCOUNTS, PASSWORD
from tallshelf.run.scenario.servers import RUNNING
from tallshelf.run.tool_servers import ToolServers, address

DESCRIPTION = """\
Run a service for the made-up company Pellam Sound Ferries, with three of its tool servers running
beside it. Everything is kept in one directory. Or play the whole job once, by --tour."""
EXAMPLES = """\
tallshelf demo
tallshelf demo --port 8470 --data /tmp/demo
tallshelf demo --tour"""

DEFAULT_PORT = 8460
_RAN_FIRST = "1.0.0"
_RUN_NOW = {"tide-tables": "1.1.0+running", "fare-desk": "1.1.0", "yard-slots": "1.1.0"}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--data", metavar="DIR", help="where everything is kept (./tallshelf-demo)")
    parser.add_argument(
        "--port",
        type=int,
        help=f"the port (TALLSHELF_PORT, else {DEFAULT_PORT}); the next six serve tools and stand-ins",
    )
    parser.add_argument(
        "--tour", action="store_true", help="play the job from capture to ledger on a scratch directory"
    )


def run(args: argparse.Namespace, io: IO) -> int:
    if args.tour:
        from tallshelf.run.tour import play_tour

        return play_tour(io)
    port = args.port if args.port is not None else _port(io.environ.get("TALLSHELF_PORT"))
    data = Path(args.data or "tallshelf-demo").resolve()
    return _demo(data, port, io)


def _port(text: str | None) -> int:
    if not text:
        return DEFAULT_PORT
    if not text.isascii() or not text.isdigit():
        raise BadArgument(f"TALLSHELF_PORT is {text!r}, not a number")
    return int(text)


def _demo(data: Path, port: int, io: IO) -> int:
    from tallshelf.run.serve import serve
    from tallshelf.run.service_setup import migrate, prepare

    ports = {slug: port + step for step, slug in enumerate(RUNNING, 1)}
    issuer, hooks, smtp = (port + len(RUNNING) + step for step in (1, 2, 3))
    _check_directory(data, port, issuer, hooks, smtp)
    for one in (port, *ports.values(), issuer, hooks, smtp):
        if not 1 <= one <= 65535 or not is_free("127.0.0.1", one):
            raise Unreachable(
                f"port {one} is not free", remedy="Choose another by --port; the demo uses seven in a row."
            )
    os.environ["TALLSHELF_PORT"], os.environ["TALLSHELF_HOST"] = str(port), "127.0.0.1"
    prepare(data)
    migrate()
    with ToolServers() as tools:
        _load(tools, ports, f"http://127.0.0.1:{hooks}", io)
        for slug, version in _RUN_NOW.items():
            tools.begin(slug, version, ports[slug])
        tools.begin_issuer(issuer)
        tools.begin_post(hooks, smtp, _secrets())
        tools.wait()
        io.print(_welcome(port))
        serve(io)
    return 0


def _check_directory(data: Path, port: int, issuer: int, hooks: int, smtp: int) -> None:
    """Make the directory with the settings of the demo; refuse one that is something else."""
    settings = data / "tallshelf.toml"
    origins = ", ".join(f'"http://127.0.0.1:{port + step}"' for step, _ in enumerate(RUNNING, 1))
    sign_in = f"http://127.0.0.1:{issuer}"
    wanted = f"""# Written by `tallshelf demo`.
[service]
log_level = "warning"

[fetch]
allow = [{origins}, "{sign_in}"]

[oidc]
issuer = "{sign_in}"
client_id = "{CLIENT}"
authorization_endpoint = "{sign_in}/authorize"
token_endpoint = "{sign_in}/token"
jwks_uri = "{sign_in}/keys"
label = "Pellam Sound Ferries"

[mail]
host = "127.0.0.1"
port = {smtp}
security = "none"
sender = "Tall Shelf <shelf@pellam.example>"

[webhooks]
allow = ["http://127.0.0.1:{hooks}"]
"""
    if settings.exists() and settings.read_text("utf-8") != wanted:
        raise Conflict(
            f"{data} holds another service, or the demo on another port",
            remedy="Choose another directory by --data, or remove this one.",
        )
    if data.exists() and not settings.exists() and any(data.iterdir()):
        raise Conflict(f"{data} is not empty and not a demo's", remedy="Choose another directory by --data.")
    data.mkdir(parents=True, exist_ok=True)
    settings.write_text(wanted, "utf-8")


def _load(tools: ToolServers, ports: dict[str, int], receiver: str, io: IO) -> None:
    from tallshelf.run.scenario.history import play
    from tallshelf.run.scenario.passwords import known_to_all
    from tallshelf.service.people.models import Person

    if Person.objects.exists():
        return
    io.print("Loading the demo, seven months of it…")
    io.out.flush()
    urls = {slug: address(slug, port) for slug, port in ports.items()}

    def run(slug: str, version: str) -> None:
        tools.start(slug, version, ports[slug])

    for slug, port in ports.items():  # while what was before is played
        tools.begin(slug, _RAN_FIRST, port)
    with known_to_all():
        play(urls, run, lambda text: io.print(f"  {text}"), receiver)


def _secrets() -> list[str]:
    from tallshelf.run.scenario.telling import secrets

    return secrets()


def _welcome(port: int) -> str:
    rows = [
        f"  {account.username:<10} {account.role:<10} {account.name}"
        + (f", team {', '.join(account.teams)}" if account.teams else "")
        + (f", desk {', '.join(account.desks)}" if account.desks else "")
        for account in ACCOUNTS
        if account.role != "ci"
    ]
    return "\n".join(
        [
            "",
            "Pellam Sound Ferries, a made-up company. Everybody's password is " + PASSWORD,
            *rows,
            f"  running over HTTP: tide-tables (it has drifted) on {port + 1}, fare-desk on {port + 2},",
            f"  and yard-slots, over the old event-stream transport, on {port + 3}; a stand-in for the",
            f"  company's sign-in (OpenID Connect) on {port + 4}; what arrives by mail and webhook is shown at",
            f"  http://127.0.0.1:{port + 5}/",
            "",
        ]
    )
