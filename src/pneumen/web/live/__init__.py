"""The page that listens through the computer's own input, and records a take right there."""
