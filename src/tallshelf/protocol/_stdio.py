"""The stdio transport, bounded: the SDK's own reads lines of any length and keeps no stray ones.

It fits the SDK's ``Transport`` protocol. No shell, a scrubbed environment, and the whole
process group is ended with the session.
"""

from __future__ import annotations

import os
import signal
from collections.abc import AsyncGenerator, Mapping
from contextlib import asynccontextmanager, suppress
from dataclasses import dataclass, field
from typing import Any

import anyio
from anyio.abc import Process
from mcp.client.stdio import get_default_environment
from mcp.shared.message import SessionMessage
from mcp_types import jsonrpc_message_adapter

from tallshelf.core.errors import Misbehaved, ShelfError, Unreachable
from tallshelf.protocol._raw import refuse_twice_named
from tallshelf.protocol._tree import Tree
from tallshelf.protocol.endpoints import Bounds, StdioEndpoint

_KEPT_STDERR = 8_000
_KEPT_STRAY = 20
_GRACE_SECONDS = 1.0


@dataclass
class Noise:
    """What a server did beside the protocol: stray lines on stdout, the end of its stderr, how it ended by itself."""

    stray: list[str] = field(default_factory=list)
    stray_count: int = 0
    stderr: bytes = b""
    exit_code: int | None = None

    def add_stray(self, line: str) -> None:
        self.stray_count += 1
        if len(self.stray) < _KEPT_STRAY:
            self.stray.append(line[:200])

    def stderr_text(self, secrets: Mapping[str, str]) -> str:
        """Return the kept end of stderr, with the values of passed variables masked."""
        text = self.stderr.decode("utf-8", "replace").strip()
        for name, value in secrets.items():
            if len(value) > 3:
                text = text.replace(value, f"[{name}]")
        return text


@asynccontextmanager
async def stdio_transport(
    endpoint: StdioEndpoint, bounds: Bounds, noise: Noise, fault: list[ShelfError]
) -> AsyncGenerator[tuple[Any, Any], None]:
    """Start a server and yield the streams of messages to and from it.

    A fault of the stream (a flood) is put into ``fault`` and ends the streams.
    Raises `Unreachable` when the command cannot be started.
    """
    tree = Tree()
    try:
        process = await anyio.open_process(
            [endpoint.command, *endpoint.args],
            env=get_default_environment() | dict(endpoint.env),
            start_new_session=True,
        )
    except (OSError, ValueError) as reason:
        raise Unreachable(
            f"could not start {endpoint.command!r}: {reason}", remedy="Check the command and its path."
        ) from None
    to_session, from_server = anyio.create_memory_object_stream[SessionMessage | Exception](64)
    to_server, from_session = anyio.create_memory_object_stream[SessionMessage](0)
    try:
        async with anyio.create_task_group() as group, to_session, from_server, to_server, from_session:
            group.start_soon(_read_stdout, process, to_session, bounds, noise, fault)
            group.start_soon(_read_stderr, process, noise)
            group.start_soon(_write_stdin, process, from_session)
            yield from_server, to_server
            group.cancel_scope.cancel()
    finally:
        with anyio.CancelScope(shield=True):
            await _stop(process, tree, noise)


async def _read_stdout(
    process: Process, to_session: Any, bounds: Bounds, noise: Noise, fault: list[ShelfError]
) -> None:
    assert process.stdout
    total = 0
    pending: list[bytes] = []
    async with to_session:
        with suppress(anyio.BrokenResourceError, anyio.ClosedResourceError, Misbehaved):
            async for chunk in process.stdout:
                total += len(chunk)
                if total > bounds.bytes:
                    fault.append(
                        Misbehaved(
                            f"the server wrote more than {bounds.bytes:,} bytes",
                            remedy="Look at what it prints; only protocol messages belong on stdout.",
                        )
                    )
                    return
                *lines, rest = chunk.split(b"\n")
                for line in lines:
                    await _deliver(b"".join([*pending, line]), to_session, noise, fault)
                    pending = []
                pending.append(rest)


async def _deliver(line: bytes, to_session: Any, noise: Noise, fault: list[ShelfError]) -> None:
    """Hand a line on, if it is a message; raise `Misbehaved` for one that names a key twice."""
    if not line.strip():
        return
    try:
        message = jsonrpc_message_adapter.validate_json(line, by_name=False)
    except ValueError:
        noise.add_stray(line.decode("utf-8", "replace"))
        return
    try:
        refuse_twice_named(line)
    except Misbehaved as error:
        fault.append(error)
        raise
    await to_session.send(SessionMessage(message))


async def _read_stderr(process: Process, noise: Noise) -> None:
    assert process.stderr
    with suppress(anyio.BrokenResourceError, anyio.ClosedResourceError):
        async for chunk in process.stderr:
            noise.stderr = (noise.stderr + chunk)[-_KEPT_STDERR:]


async def _write_stdin(process: Process, from_session: Any) -> None:
    assert process.stdin
    with suppress(anyio.BrokenResourceError, anyio.ClosedResourceError, OSError):
        async with from_session:
            async for outgoing in from_session:
                line = outgoing.message.model_dump_json(by_alias=True, exclude_unset=True)
                await process.stdin.send(line.encode() + b"\n")


async def _stop(process: Process, tree: Tree, noise: Noise) -> None:
    """Close stdin, wait a moment, then end the whole process group, and what left it for a session of its own."""
    tree.note(process.pid)
    if process.stdin:
        with suppress(OSError, anyio.BrokenResourceError, anyio.ClosedResourceError):
            await process.stdin.aclose()
    with anyio.move_on_after(_GRACE_SECONDS):
        noise.exit_code = await process.wait()
    for number in (signal.SIGTERM, signal.SIGKILL):
        with suppress(ProcessLookupError, PermissionError):
            os.killpg(process.pid, number)
        with anyio.move_on_after(_GRACE_SECONDS):
            await process.wait()
            break
    with suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, signal.SIGKILL)
    tree.end(process.pid)
    for stream in (process.stdout, process.stderr):
        if stream:
            with suppress(OSError, anyio.BrokenResourceError, anyio.ClosedResourceError):
                await stream.aclose()
    _close_transport(process)


def _close_transport(process: Process) -> None:
    """Close asyncio's own end, which nothing public exposes and which else warns when collected."""
    inner = getattr(getattr(process, "_process", None), "_transport", None)
    if inner is not None:
        with suppress(PermissionError):
            inner.close()
