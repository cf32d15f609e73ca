"""What holds for all tests; environment and database come from ``script/test``."""

from hypothesis import settings

# Speed is the bench's business; a loaded machine must not fail a test.
settings.register_profile("kentrobar", deadline=None, print_blob=True)
settings.load_profile("kentrobar")
