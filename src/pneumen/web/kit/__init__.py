"""The Kit screen: the frontier of kits, the packing list, the catalogue."""
