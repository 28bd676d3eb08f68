"""The catalogue's format in words, made from the same table that checks it."""

from pneumen.core.kit import FACTS, ITEM_FIELDS, KIND_LABELS

COMMON = {
    "id": ("text", "lower-case letters, digits, dots and hyphens; unique"),
    "kind": ("text", "one of the kinds below"),
    "name": ("text", "what it is called"),
    "price": ("number", "0 to 1,000,000, in your currency"),
    "delivery": ("number", "what its delivery costs on top"),
    "in_box": ("list", "kinds that lie in its box; of a bundle, the ids of what it holds"),
    "note": ("text", "anything else; 'glued' keeps a covering out of rented rooms"),
}


def format_as_markdown() -> str:
    """Return the description that ships as docs/catalogue.md."""
    rows = []
    for name in ITEM_FIELDS:
        if name in COMMON:
            shape, meaning = COMMON[name]
            kinds = "all"
        else:
            fact = FACTS[name]
            shape, meaning, kinds = fact.shape, fact.meaning, ", ".join(fact.kinds) or "all"
            if fact.allowed:
                meaning += f": {', '.join(fact.allowed)}"
            elif fact.figures:
                meaning += f"; {fact.figures} figures, {fact.low:g} to {fact.high:g}"
            elif fact.high:
                meaning += f", {fact.low:g} to {fact.high:g}"
        rows.append(f"| `{name}` | {shape} | {kinds} | {meaning} |")
    kinds = ", ".join(f"`{slug}` ({label.lower()})" for slug, label in KIND_LABELS.items())
    return f"""# The format of a catalogue

Made from the table that checks every import (`core/kit/kinds.py`); a test keeps the two together.

**CSV**: UTF-8, with or without a byte order mark; the first line names the columns, in any order; `id`, `kind`, `name` and
`price` are needed. Lists are parted by spaces, decimals written with a point, yes and no as such. Text that a spreadsheet
would take for a formula goes out with an apostrophe before it and loses it on the way in. **JSON**: `{{"items": [...]}}`
with the same names, yes and no as true and false, what is empty left out. Up to 10 MB and 20,000 items. An import is taken
whole or not at all; what it leaves out is removed.

Kinds: {kinds}.

| column | holds | for kind | meaning |
|---|---|---|---|
{chr(10).join(rows)}
"""
