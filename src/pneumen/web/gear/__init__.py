"""The catalogue: its own prices, items, hidden and owned marks, and the open formats in and out."""
