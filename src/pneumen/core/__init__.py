"""The trade as pure functions: values in, values out. No Django, no HTML, no clock, no database."""
