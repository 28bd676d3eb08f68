"""The web face: views translate, services act, the core computes."""
