"""What workers do; procrastinate looks for it here."""

from kentrobar.web.kit.searches import solve_search, take_over

__all__ = ["solve_search", "take_over"]
