"""Where pages are, by their names."""

from django.urls import reverse


def at(name, *keys):
    """The address of a page: its name and the keys in it."""
    return reverse(name, args=keys)
