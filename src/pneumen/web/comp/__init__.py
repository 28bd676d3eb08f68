"""The room comp of the web face."""
