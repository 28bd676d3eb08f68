"""The room start of the web face."""
