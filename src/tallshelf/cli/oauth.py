"""The options by which somebody signs in to a tool server by OAuth."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument

if TYPE_CHECKING:
    from tallshelf.protocol.oauth import OwnClient, SignIn


def add_arguments(parser: argparse.ArgumentParser) -> None:
    signing = parser.add_argument_group("signing in by OAuth")
    signing.add_argument(
        "--oauth",
        action="store_true",
        help="sign in as the server's authorization challenge asks, in a browser",
    )
    signing.add_argument(
        "--oauth-issuer",
        metavar="URL",
        action="append",
        default=[],
        help="a host that signing in may lead to; of any other you are asked",
    )
    signing.add_argument("--oauth-client", metavar="ID", help="a client of yours, instead of registering one")
    signing.add_argument(
        "--oauth-secret-from", metavar="SOURCE", help="its secret, from an environment variable or as @PATH"
    )
    signing.add_argument(
        "--oauth-port",
        type=int,
        metavar="PORT",
        help="where its redirect address http://127.0.0.1:PORT/callback was registered",
    )
    signing.add_argument("--oauth-anew", action="store_true", help="forget what is kept of sign-ins there")
    signing.add_argument("--no-browser", action="store_true", help="only print the address to open")


def sign_in_from(args: argparse.Namespace, url: str, secret: str, io: IO) -> SignIn | None:
    """Return how to sign in to an address, as the options say; None without ``--oauth``."""
    more = [args.oauth_issuer, args.oauth_client, secret, args.oauth_port, args.oauth_anew, args.no_browser]
    if not args.oauth:
        if any(more):
            raise BadArgument("the options of a sign-in go with --oauth")
        return None
    if (secret or args.oauth_port) and not args.oauth_client:
        raise BadArgument("--oauth-secret-from and --oauth-port go with --oauth-client")
    if secret and not args.oauth_issuer:
        raise BadArgument(
            "a client's secret goes to the issuer that gave it, and to no other",
            remedy="Name it: --oauth-issuer URL.",
        )
    if args.oauth_port is not None and not 1 <= args.oauth_port <= 65_535:
        raise BadArgument(f"--oauth-port is {args.oauth_port}; it must be from 1 to 65535")
    # The SDK is loaded by who signs in alone.
    from tallshelf.protocol.oauth import Hosts, KeptTokens, SignIn

    kept = KeptTokens(io.sign_in_file.with_name("oauth.json"), url)
    if args.oauth_anew:
        kept.forget()
    hosts = Hosts(
        url,
        named=args.oauth_issuer,
        # Who holds a secret is asked about no other host: what is agreed to in passing must not get it.
        known=[] if secret else kept.hosts,
        confirm=lambda origin: not secret and _confirmed(origin, url, io),
        keep=kept.keep_host,
    )
    return SignIn(
        url,
        hosts,
        kept,
        show=lambda address: _show(address, args.no_browser, io),
        paste=io.stdin.readline if args.no_browser else None,
        client=_client(args, secret),
    )


def _client(args: argparse.Namespace, secret: str) -> OwnClient | None:
    from tallshelf.protocol.oauth import OwnClient

    return OwnClient(args.oauth_client, secret, args.oauth_port or 0) if args.oauth_client else None


def _confirmed(origin: str, url: str, io: IO) -> bool:
    """Ask on the terminal; where there is none, nobody agrees."""
    from tallshelf.core.reports import escape

    if not io.stdin.isatty():
        return False
    io.note(f"Signing in to {url} leads to {escape(origin)}. Is that its issuer? [y/N]")
    return io.stdin.readline().strip().lower() in ("y", "yes")


def _show(address: str, no_browser: bool, io: IO) -> None:
    import webbrowser

    from tallshelf.core.reports import escape

    if not no_browser and webbrowser.open(address):
        io.note("Sign in in your browser; if none has opened, open this address:")
    else:
        io.note("Open this address to sign in; where the browser ends up may be pasted here:")
    io.note(f"  {escape(address)}")
