"""Tables that ship with the core, each with its source."""
