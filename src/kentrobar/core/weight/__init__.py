"""What is laid or fitted, and what it does: pieces know themselves, builds are made of them.

- ``pieces`` · ``materials`` · ``piece_of_material`` · ``strings`` · ``builds``
- ``prediction`` · ``further`` · ``sensitivity_map``
- imports ``frame``, ``body`` and below; nothing of ``reading`` beside it.
"""
