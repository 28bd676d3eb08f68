"""The Place screen: the distance ladder."""
