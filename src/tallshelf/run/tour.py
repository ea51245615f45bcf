"""The tour: the whole job, played by the real commands against a real service."""

from __future__ import annotations

import json
import os
import shlex
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from tallshelf.cli.io import IO
from tallshelf.core.kits import Kit, Pick, kit_text, parse_range
from tallshelf.run.ports import free_ports, wait_for
from tallshelf.run.scenario.declarations import declared

_SERVER = "-m tallshelf.run.scenario.tool_server"


@dataclass(frozen=True)
class Stage:
    """One command: what it shows, its words, its expected exit code, and what it must print, perhaps after a while."""

    why: str
    words: str
    code: int = 0
    shows: str = ""
    by: str = ""
    patience: int = 0


class StageFailed(Exception):
    """A command of the tour did something else than it should."""


class Tour:
    """Runs stages in a scratch directory and prints each command with its real output."""

    def __init__(self, home: Path, io: IO) -> None:
        self.home = home
        self.io = io
        self.tokens: dict[str, str] = {}
        self.url = ""

    def environment(self, by: str = "") -> dict[str, str]:
        """Return the environment of one account: its token, the service, and nothing of the caller's."""
        kept = {
            name: os.environ[name]
            for name in ("PATH", "LANG", "PYTHONPATH", "VIRTUAL_ENV")
            if name in os.environ
        }
        own = {"HOME": str(self.home), "TALLSHELF_DATA": str(self.home / "data"), "NO_COLOR": "1"}
        service = {"TALLSHELF_URL": self.url, "TALLSHELF_TOKEN": self.tokens[by]} if by else {}
        return {**kept, **own, **service}

    def play(self, stage: Stage) -> str:
        """Run one stage, print it, and return its standard output."""
        words = [word.replace("PYTHON", sys.executable) for word in shlex.split(stage.words)]
        who = f"  (as {stage.by})" if stage.by else ""
        self.io.print(f"\n# {stage.why}{who}")
        self.io.print(f"$ tallshelf {stage.words.replace('PYTHON', 'python')}")
        done = self._run(words, stage.by)
        for _ in range(stage.patience):
            if stage.shows in done.stdout + done.stderr:
                break
            time.sleep(0.5)
            done = self._run(words, stage.by)
        secret = stage.words.startswith("admin token")
        shown = "(the token)\n" if secret and done.returncode == 0 else done.stdout
        self.io.out.write(shown + done.stderr)
        if done.returncode != stage.code:
            raise StageFailed(f"exit code {done.returncode} instead of {stage.code}")
        if stage.shows not in done.stdout + done.stderr:
            raise StageFailed(f"the output does not say {stage.shows!r}")
        if stage.code:
            self.io.print(f"(exit code {stage.code}, as it should be)")
        self.io.out.flush()
        return done.stdout

    def _run(self, words: list[str], by: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "tallshelf", *words],
            cwd=self.home,
            env=self.environment(by),
            stdin=subprocess.DEVNULL,
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )


_LOOK = (
    Stage(
        "Take down what a running server really declares",
        f"capture --stdio 'PYTHON {_SERVER} berth-planner 1.4.2' -o published.json",
        shows="about",
    ),
    Stage(
        "and its next release",
        f"capture --stdio 'PYTHON {_SERVER} berth-planner 1.5.0' -o next.json",
        shows="digest",
    ),
    Stage(
        "Try a tool",
        "try find_free_berth vessel_length=84 from=2026-06-01T06:00:00Z until=2026-06-01T09:00:00Z "
        f"--stdio 'PYTHON {_SERVER} berth-planner 1.4.2'",
        shows="fits the output schema",
    ),
    Stage("Read it as a model will", "outline published.json", shows="find_free_berth"),
    Stage(
        "What breaks, and for whom?", "compare published.json next.json --gate", 1, "`basin` is now required"
    ),
    Stage("Names and words", "lint next.json", 1, "contradicting-annotation"),
    Stage(
        "A second server, that looks up crew",
        f"capture --stdio 'PYTHON {_SERVER} crew-roster 2.1.0' -o roster.json",
    ),
    Stage(
        "and one more, over HTTP",
        "capture --http http://127.0.0.1:TOOLS/mcp -o certificates.json",
        shows="crew-certificates",
    ),
    Stage("Do two tools do the same job?", "overlap roster.json certificates.json", shows="same-job"),
    Stage("All of it on one page, for CI", "check next.json --base published.json", 1, "does not pass"),
)
_SET_UP = (
    Stage("Set up a service", "admin init --steward pell", shows="Set up"),
    Stage("with a team", "admin add-team berths --title Berths"),
    Stage("a submitter", "admin add-user tomas --name 'Tomas Eide' --role submitter --team berths"),
    Stage("and another team, that uses tools", "admin add-team ticketing --title Ticketing"),
    Stage("with someone in it", "admin add-user jonas --name 'Jonas Reed' --role submitter --team ticketing"),
    Stage("and a curator", "admin add-user ines --name 'Ines Varga' --role curator --desk curators"),
    Stage(
        "and a security reviewer", "admin add-user runa --name 'Runa Blythe' --role reader --desk security"
    ),
    Stage("Take in what runs in the company today", "admin adopt running", shows="Adopted 1 server"),
)
_RELEASE = (
    Stage(
        "Put the server on the shelf",
        "enrol berth-planner --title 'Berth planner' --team berths --contact berths@pellam.example",
        by="tomas",
        shows="on the shelf",
    ),
    Stage(
        "Check it against the catalog",
        "check published.json --base berth-planner",
        by="tomas",
        shows="passes",
    ),
    Stage(
        "Ask to publish it",
        "submit berth-planner published.json --launch launch.json --note 'First release.'",
        by="tomas",
        shows="Request 1",
    ),
    Stage("Nobody signs what they submitted", "answer 1 --agree", 2, "nobody", by="tomas"),
    Stage("What waits for the curator?", "queue", by="ines", shows="berth-planner 1.4.2"),
    Stage("Read the request", "show 1", by="ines", shows="Curators"),
    Stage(
        "Agree to exactly these bytes",
        "answer 1 --agree --note 'Clear and complete.'",
        by="ines",
        shows="1 of 1",
    ),
    Stage(
        "One tool writes, so security is asked too", "answer 1 --agree", by="runa", shows="can be published"
    ),
    Stage("Publish", "publish 1", by="tomas", shows="Published"),
    Stage("Hand users the block for their host", "connect berth-planner", by="tomas", shows="mcpServers"),
    Stage(
        "Another team makes a kit of what its host has",
        "kit read host.json notes.md --name quay-agent --team ticketing",
        by="jonas",
        shows="find_free_berth",
    ),
    Stage("looks at what it comes to", "kit check kit.toml", by="jonas", shows="quay-agent passes"),
    Stage(
        "and puts it on the shelf, which asks the owners of a server that writes",
        "kit put kit.toml --reason 'Charters ask for berths every day.'",
        by="jonas",
        shows="for the owners of berth-planner (berths), by request 2",
    ),
    Stage("They agree", "answer 2 --agree", by="tomas", shows="1 of 1"),
    Stage("and a curator", "answer 2 --agree", by="ines", shows="is done"),
    Stage("so that it is put", "kit show quay-agent", by="jonas", shows="Quay agent", patience=20),
    Stage(
        "Whom would the next release hit?", "compare berth-planner next.json", by="ines", shows="quay-agent"
    ),
    Stage(
        "The next release waits for an honest version",
        "submit berth-planner next.json",
        by="tomas",
        shows="does not pass",
    ),
    Stage(
        "and is sent back",
        "answer 3 --send-back --note 'Metres became feet, and 1.5.0 is too low: 2.0.0.'",
        by="ines",
        shows="sent back",
    ),
    Stage(
        "Does the running server still declare what was approved?",
        "watch --once --start berth-planner",
        by="ines",
        shows="as approved",
    ),
    Stage(
        "Another team has events sent to a receiver of its own",
        "webhook make --team ticketing http://127.0.0.1:POST/hooks",
        by="jonas",
        shows="Webhook 1",
    ),
    Stage(
        "An incident: whom would it hit to stop it?",
        "suspend berth-planner --preview",
        by="ines",
        shows="quay-agent of ticketing",
    ),
    Stage(
        "and what could stand in",
        "suspend berth-planner#find_free_berth --preview",
        by="ines",
        shows="could stand in",
    ),
    Stage(
        "Stop its use at once",
        "suspend berth-planner --reason 'double bookings, see incident 4411'",
        by="ines",
    ),
    Stage("and nobody connects to it any more", "connect berth-planner", 2, "is suspended", by="tomas"),
    Stage("Those whom it hits were told", "inbox", by="jonas", shows="it hits your kit"),
    Stage("and their CI fails", "kit check kit.toml", 1, "is suspended", by="jonas"),
    Stage("An event reached their receiver", "webhook log 1", by="jonas", shows="sent", patience=20),
    Stage(
        "It is mended, and its owner asks to lift it",
        "ask lift berth-planner --reason 'Bookings are locked now.'",
        by="tomas",
        shows="Request 4",
    ),
    Stage("A curator agrees", "answer 4 --agree", by="ines", shows="is done"),
    Stage("and the kit's users can go on", "connect --kit quay-agent", by="jonas", shows="mcpServers"),
    Stage("Who did what?", "ledger --most 8", by="ines", shows="suspension-lifted"),
    Stage("Does the ledger hold?", "admin verify-ledger", shows="The ledger holds"),
)


_SCOPES = {
    "tomas": "read check submit sign",
    "ines": "read submit sign curate",
    "runa": "read sign",
    "jonas": "read check submit",
}


def play_tour(io: IO) -> int:
    """Play the tour; return 0 only when every stage did what it should."""
    with tempfile.TemporaryDirectory(prefix="tallshelf-tour-") as scratch:
        tour = Tour(Path(scratch), io)
        service_port, tool_port, post_port, smtp_port = free_ports(4)
        children: list[subprocess.Popen[bytes]] = []
        try:
            children.append(
                _start([*shlex.split(_SERVER), "crew-certificates", "0.3.0", "--port", str(tool_port)], tour)
            )
            wait_for(tool_port)
            _write_running(tour.home / "running")
            for stage in (*_LOOK, *_SET_UP):
                tour.play(_with_port(stage, tool_port))
            for who, scopes in _SCOPES.items():
                words = " ".join(f"--scope {scope}" for scope in scopes.split())
                tour.tokens[who] = tour.play(
                    Stage(f"A token for {who}", f"admin token {who} {words}")
                ).strip()
            _write_settings(tour.home / "data", post_port)
            children.append(_start(["-m", "tallshelf", "serve", "--port", str(service_port)], tour))
            wait_for(service_port)
            post = ["-m", "tallshelf.run.scenario.post_office", "--port", str(post_port)]
            children.append(_start([*post, "--smtp", str(smtp_port)], tour))
            wait_for(post_port)
            tour.url = f"http://127.0.0.1:{service_port}"
            io.print(f"\n# The service runs at {tour.url}")
            _write_launch(tour.home / "launch.json")
            _write_kit(tour.home)
            for stage in _RELEASE:
                tour.play(_with_port(stage, post_port, "POST"))
        except (StageFailed, subprocess.TimeoutExpired) as fault:
            io.note(f"\nThe tour stopped here: {fault}")
            return 1
        finally:
            for child in children:
                child.terminate()
            for child in children:
                child.wait(10)
    io.print(f"\nAll {len(_LOOK) + len(_SET_UP) + len(_RELEASE) + len(_SCOPES)} steps did what they should.")
    return 0


def _with_port(stage: Stage, port: int, name: str = "TOOLS") -> Stage:
    return replace(stage, words=stage.words.replace(name, str(port)))


def _start(words: list[str], tour: Tour) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, *words],
        cwd=tour.home,
        env=tour.environment(),
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )


def _write_running(folder: Path) -> None:
    """Write what of the company runs already: one server, and who owns it."""
    folder.mkdir()
    (folder / "yard-slots.json").write_text(json.dumps(declared("yard-slots", "1.1.0")), "utf-8")
    (folder / "owners.toml").write_text(
        '[servers.yard-slots]\nteam = "ticketing"\ncontact = "ticketing@pellam.example"\nversion = "1.1.0"\n',
        "utf-8",
    )


def _write_settings(data: Path, port: int) -> None:
    """Let the service send webhooks to the stand-in that takes them."""
    (data / "tallshelf.toml").write_text(f'[webhooks]\nallow = ["http://127.0.0.1:{port}"]\n', "utf-8")


def _write_launch(path: Path) -> None:
    record: dict[str, Any] = {
        "environment": "production",
        "transport": "stdio",
        "command": sys.executable,
        "args": [*shlex.split(_SERVER), "berth-planner", "1.4.2"],
    }
    path.write_text(json.dumps(record, indent=2), "utf-8")


def _write_kit(home: Path) -> None:
    """Write what another team has: a host's configuration, instructions, and the kit that it makes of them."""
    block = {"mcpServers": {"berth-planner": {"command": "berth-planner"}}}
    (home / "host.json").write_text(json.dumps(block), "utf-8")
    (home / "notes.md").write_text("Use `find_free_berth` before you promise a quay.\n", "utf-8")
    kit = Kit(
        name="quay-agent",
        title="Quay agent",
        team="ticketing",
        contacts=("ticketing@pellam.example",),
        purpose="Tells passengers at which quay they board.",
        picks=(Pick("berth-planner", parse_range("^1.4"), ("tool:find_free_berth",)),),
        budget=1000,
    )
    (home / "kit.toml").write_text(kit_text(kit), "utf-8")
