"""The client for programs that await: the same answers, one core."""

from __future__ import annotations

import inspect

import anyio
import httpx
import pytest

from tallshelf.client import AsyncShelf, Shelf, results
from tallshelf.core.errors import NotFound


def served(request):
    path = request.url.path.removeprefix("/api/v1/")
    if path == "servers":
        cursor = request.url.params.get("cursor")
        rows = [{"slug": f"server-{at}"} for at in (range(3) if cursor is None else range(3, 5))]
        return httpx.Response(200, json={"results": rows, "next": None if cursor else "on"})
    if path == "servers/nowhere":
        body = {"type": "urn:tallshelf:problem:not-found", "title": "t", "status": 404, "detail": "d"}
        return httpx.Response(404, json=body)
    return httpx.Response(200, json={"slug": path.rpartition("/")[2], "releases": []})


def asks():
    return AsyncShelf("http://shelf.example", "t", transport=httpx.MockTransport(served))


def test_calls_run_side_by_side_and_pages_come_one_by_one():
    async def main():
        async with asks() as shelf:
            slugs = [row.slug async for row in shelf.servers()]
            found = {}

            async def read(slug):
                found[slug] = await shelf.server(slug)

            async with anyio.create_task_group() as group:
                for slug in slugs:
                    group.start_soon(read, slug)
            with pytest.raises(NotFound):
                await shelf.server("nowhere")
        return found

    found = anyio.run(main)
    assert {slug: one.slug for slug, one in found.items()} == {
        f"server-{at}": f"server-{at}" for at in range(5)
    }
    assert all(isinstance(one, results.ServerDetail) for one in found.values())


def test_each_method_is_there_with_the_same_parameters():
    for name, method in inspect.getmembers(Shelf, inspect.isfunction):
        if name.startswith("_") or name == "close":
            continue
        ours = inspect.signature(getattr(AsyncShelf, name))
        assert list(ours.parameters.values()) == list(inspect.signature(method).parameters.values()), name
