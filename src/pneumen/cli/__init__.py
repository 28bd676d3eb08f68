"""The scripting face: one module per command; each reads, calls the core and prints."""
