"""The demo song as data, and the command that loads it."""
