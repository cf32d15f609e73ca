"""How much statistical tests draw: a quarter of their sample by default, all of it with ``--full``.

A quarter of the draws scatters twice as much, so the margins are twice as wide then.
"""

PARTS = 4
full = False  # set by the option --full


def sample(size: int) -> int:
    """How many to draw of a full sample of this size."""
    return size if full else -(-size // PARTS)


def margin(width: float) -> float:
    """How far a share may lie from what it should be, where a full sample may lie this far."""
    return width if full else width * PARTS**0.5
