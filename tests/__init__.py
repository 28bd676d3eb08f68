"""Everything that is tested, and how property tests run: a slow machine is no fault of the product's."""

from hypothesis import settings

settings.register_profile("any-machine", deadline=None)
settings.load_profile("any-machine")
