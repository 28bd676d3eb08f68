"""The room song of the web face."""
