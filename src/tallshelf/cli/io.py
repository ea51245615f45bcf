"""What a command reads and writes, handed in so that tests need no patching."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any, TextIO

from msgspec import Struct, field

from tallshelf.core.errors import BadArgument, BadDocument, SignInNeeded

if TYPE_CHECKING:
    from tallshelf.client import Shelf
    from tallshelf.core.reports import Paint


class IO(Struct):
    """Streams, environment and the way to a service."""

    out: TextIO
    err: TextIO
    environ: Mapping[str, str]
    stdin: TextIO = field(default_factory=lambda: sys.stdin)
    connect: Callable[[str, str], Shelf] | None = None

    def print(self, text: str = "") -> None:
        """Write a line for the reader of the result."""
        self.out.write(text + "\n")

    def note(self, text: str) -> None:
        """Write a line beside the result, such as what to do next."""
        self.err.write(text + "\n")

    def print_json(self, value: Any) -> None:
        """Write a value as JSON; hidden characters stay escaped."""
        self.print(json.dumps(value, indent=2, ensure_ascii=True))

    @property
    def paint(self) -> Paint:
        """Colour on a terminal only, and never against NO_COLOR."""
        from tallshelf.core.reports import ANSI, PLAIN

        return ANSI if self.out.isatty() and "NO_COLOR" not in self.environ else PLAIN

    def read_bytes(self, path: str) -> bytes:
        """Read a file, or standard input for ``-``; raise `BadArgument` when it cannot be read."""
        try:
            return self.stdin.read().encode("utf-8") if path == "-" else Path(path).read_bytes()
        except OSError as fault:
            raise BadArgument(f"cannot read {path}: {fault.strerror or fault}") from None

    def write_file(self, path: str, text: str) -> None:
        """Write a file whole or not at all."""
        target = Path(path)
        part = target.with_name(f".{target.name}.{os.getpid()}.part")
        try:
            part.write_text(text, "utf-8")
            part.replace(target)
        except OSError as fault:
            raise BadArgument(f"cannot write {path}: {fault.strerror or fault}") from None

    def shelf(self) -> Shelf:
        """Return a client for the service that was signed in to, or that the environment names."""
        from tallshelf.client import Shelf

        url, token = self.environ.get("TALLSHELF_URL", ""), self.environ.get("TALLSHELF_TOKEN", "")
        if not url or not token:
            kept = self._kept_sign_in()
            url, token = url or kept.get("url", ""), token or kept.get("token", "")
        if not url or not token:
            raise SignInNeeded(
                "no service is known",
                remedy="Run `tallshelf sign-in URL`, or set TALLSHELF_URL and TALLSHELF_TOKEN.",
            )
        return (self.connect or Shelf)(url, token)

    @property
    def sign_in_file(self) -> Path:
        """Where the address and token of the last sign-in are kept."""
        home = self.environ.get("XDG_CONFIG_HOME") or str(Path(self.environ.get("HOME", ".")) / ".config")
        return Path(home) / "tallshelf" / "sign-in.json"

    def _kept_sign_in(self) -> dict[str, str]:
        try:
            kept = json.loads(self.sign_in_file.read_text("utf-8"))
        except FileNotFoundError:
            return {}
        except (OSError, ValueError):
            raise BadDocument(
                f"{self.sign_in_file} cannot be read", remedy="Run `tallshelf sign-in URL` again."
            ) from None
        return kept if isinstance(kept, dict) else {}
