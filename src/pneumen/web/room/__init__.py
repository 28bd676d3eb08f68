"""The Room screen: where to stand, what to hang, what is heard."""
