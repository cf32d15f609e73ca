"""Instruments that send lines of text: a scale, a balance board, a machine, a light gate.

- ``lines``: what one line says, by a pattern that is set per device.
- ``taking``: one settled reading, or the passes of a gate, over any serial port or socket.
- ``allowed``: which devices may be asked at all.
- ``simulated``: the bench of the demo, a process of its own; the application reads from it as from
  any other device and knows nothing of the frame that lies on it.
"""
