"""The hookup step of the web face."""
