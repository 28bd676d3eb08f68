"""The room gain of the web face."""
