"""Logs, request ids and metrics."""

from __future__ import annotations

import dataclasses
import json
import logging

import pytest
from django.test import Client

from tallshelf.core.errors import BadArgument
from tallshelf.service.config import load_config
from tallshelf.service.web.log_settings import logging_settings


def test_an_account_that_calls_too_often_is_told_to_wait(api, settings):
    settings.CONFIG = dataclasses.replace(settings.CONFIG, calls_per_minute=3)
    runa, edda = api("runa"), api("edda")
    assert [runa.get("teams")[0] for _ in range(4)] == [200, 200, 200, 429]
    assert edda.get("teams")[0] == 200  # others go on
    answer = Client().get("/api/v1/teams", headers=runa.headers)
    assert int(answer.headers["Retry-After"]) > 0 and answer.json()["remedy"]


def test_each_answer_has_its_id_in_header_log_and_problem(api, caplog):
    headers = api("runa").headers
    with caplog.at_level(logging.INFO, "tallshelf.request"):
        answer = Client().get(
            "/api/v1/servers/nowhere?secret=1", headers={**headers, "X-Request-Id": "proxy-12345678"}
        )
    assert answer.headers["X-Request-Id"] == answer.json()["request_id"] == "proxy-12345678"
    (line,) = [record.msg for record in caplog.records if record.name == "tallshelf.request"]
    told = {name: line[name] for name in ("event", "method", "path", "status", "by", "request_id")}
    assert told == {
        "event": "answered",
        "method": "GET",
        "path": "/api/v1/servers/nowhere",
        "status": 404,
        "by": "runa",
        "request_id": "proxy-12345678",
    }
    assert headers["Authorization"].split()[1] not in str(line)


@pytest.mark.parametrize("given", ["short", "x" * 65, "two\nlines-here", "<script>alert", ""])
def test_a_strange_request_id_is_not_taken_over(db, given):
    answer = Client().get("/api/v1/session", headers={"X-Request-Id": given})
    assert answer.headers["X-Request-Id"] != given
    assert len(answer.headers["X-Request-Id"]) == 16


@pytest.mark.parametrize("form", ["json", "text"])
def test_a_log_line_is_one_line_that_can_be_read(form, capsys):
    told = logging_settings(form, "info")
    formatter = told["formatters"]["structured"]
    made = formatter["()"](**{name: value for name, value in formatter.items() if name != "()"})
    record = logging.LogRecord("django.db", logging.ERROR, "f", 1, "it\nbroke %s", ("here",), None)
    line = made.format(record)
    if form == "json":
        assert json.loads(line)["event"] == "it\nbroke here"
        assert "\n" not in line
    else:
        assert "it\nbroke here" in line


def test_metrics_count_requests_and_what_the_catalog_holds(published, api):
    published()
    runa = api("runa")
    runa.get("servers")
    answer = Client().get("/metrics", headers={**runa.headers, "Accept": "application/openmetrics-text"})
    text = answer.content.decode()
    assert answer.headers["Content-Type"].startswith("text/plain")
    assert "tallshelf_servers 1.0" in text
    assert 'tallshelf_releases{state="published"} 1.0' in text
    assert 'tallshelf_requests{state="done"} 1.0' in text
    assert 'by_view_transport_method_total{method="GET",transport="http",view="servers"}' in text
    refused = Client().get("/metrics")
    assert (refused.status_code, refused.json()["type"]) == (401, "urn:tallshelf:problem:sign-in-needed")


def test_a_setting_that_is_none_of_the_choices_is_refused(tmp_path):
    (tmp_path / "tallshelf.toml").write_text('[service]\nlog_format = "xml"\n', "utf-8")
    with pytest.raises(BadArgument, match="log_format is 'xml'"):
        load_config({"TALLSHELF_DATA": str(tmp_path)})
