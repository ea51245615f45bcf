"""``tallshelf completion``: the script that completes commands and options in a shell."""

from __future__ import annotations

import argparse

from tallshelf.cli.io import IO

DESCRIPTION = "Print the script that lets a shell complete commands, options and files."
EXAMPLES = """\
eval "$(tallshelf completion bash)"        (in ~/.bashrc)
eval "$(tallshelf completion zsh)"         (in ~/.zshrc)
tallshelf completion fish > ~/.config/fish/completions/tallshelf.fish"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("shell", choices=("bash", "zsh", "fish"))


def run(args: argparse.Namespace, io: IO) -> int:
    from argcomplete.shell_integration import shellcode

    io.print(shellcode(["tallshelf"], shell=args.shell))
    return 0
