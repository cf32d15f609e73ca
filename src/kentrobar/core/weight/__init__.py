"""What is laid or fitted, and what it does: pieces know themselves, builds are made of them.

- ``pieces`` · ``materials`` · ``laid`` · ``strings`` · ``builds`` · ``prediction`` · ``further`` · ``gram``
- imports ``frame``, ``body`` and below; nothing of ``reading`` beside it.
"""
