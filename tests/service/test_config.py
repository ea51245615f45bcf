"""Settings: a file, the environment over it, and errors that name the key."""

from __future__ import annotations

import stat

import pytest

from tallshelf.core.errors import BadArgument
from tallshelf.service.config import load_config


def test_the_environment_goes_over_the_file(tmp_path):
    (tmp_path / "tallshelf.toml").write_text(
        '[service]\nport = 9000\nallowed_hosts = ["shelf.pellam.example"]\n[fetch]\nallow = ["https://a:443"]\n',
        "utf-8",
    )
    config = load_config({"TALLSHELF_DATA": str(tmp_path)})
    assert (config.port, config.allowed_hosts, config.fetch_allow) == (
        9000,
        ("shelf.pellam.example",),
        ("https://a:443",),
    )
    over = load_config(
        {
            "TALLSHELF_DATA": str(tmp_path),
            "TALLSHELF_PORT": "1",
            "TALLSHELF_HOST": "::1",
            "TALLSHELF_ALLOWED_HOSTS": "a,b",
        }
    )
    assert (over.port, over.host, over.allowed_hosts) == (1, "::1", ("a", "b"))
    assert load_config({"TALLSHELF_DATA": str(tmp_path / "none")}).port == 8460


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("port = ", "cannot be read"),
        ("[shelves]\n", r"no table \[shelves\]"),
        ("[service]\nprot = 1\n", "no key 'prot'"),
        ('[service]\nport = "1"\n', r"\[service\] port must be int"),
        ("[service]\nport = true\n", "port must be int"),
        ("[fetch]\nallow = 3\n", "allow must be list"),
        ("[service]\ncalls_per_minute = 0\n", "calls_per_minute is 0"),
        ("[service]\nproxies = -1\n", "proxies is -1"),
        ("[service]\npasswords = false\n", "nobody could sign in"),
        ('[service]\nrefused_passwords = "/none"\n', "there is no file /none"),
        ('[oidc]\nissuer = "https://id.pellam.example"\n', "lacks client_id"),
    ],
)
def test_faults_name_the_file_and_the_key(tmp_path, text, words):
    (tmp_path / "tallshelf.toml").write_text(text, "utf-8")
    with pytest.raises(BadArgument, match=words):
        load_config({"TALLSHELF_DATA": str(tmp_path)})
    with pytest.raises(BadArgument, match="TALLSHELF_PORT"):
        load_config({"TALLSHELF_DATA": str(tmp_path / "none"), "TALLSHELF_PORT": "many"})


def test_the_key_file_is_made_once_and_only_its_owner_reads_it(tmp_path):
    config = load_config({"TALLSHELF_DATA": str(tmp_path / "data")})
    key = config.key
    assert len(key) > 60
    assert key == load_config({"TALLSHELF_DATA": str(tmp_path / "data")}).key
    assert stat.S_IMODE((tmp_path / "data" / "secret.key").stat().st_mode) == 0o600
