"""The command line: one module for each command, each with ``add_arguments`` and ``run(args, io)``."""
