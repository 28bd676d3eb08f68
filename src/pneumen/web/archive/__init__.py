"""A song as one file: everything that was said and measured as JSON, and its recordings as they are."""
