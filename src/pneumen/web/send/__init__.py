"""The room send of the web face."""
