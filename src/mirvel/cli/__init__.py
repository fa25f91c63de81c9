"""The command line: the core on a recipe file, without a database."""
