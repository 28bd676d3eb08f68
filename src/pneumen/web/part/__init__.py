"""The Part screen: what is recorded, section by section."""
