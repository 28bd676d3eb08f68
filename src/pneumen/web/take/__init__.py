"""The room take of the web face."""
