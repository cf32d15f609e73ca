"""Can this reading be trusted? Several of one spec, calibration, swings, slips, readings compared.

- ``series`` · ``calibration`` · ``timing`` · ``recordings`` · ``pendulum`` · ``swinging``;
  judging them: ``checks`` ·
  ``slips`` · ``crosscheck`` · ``comparing``
- imports ``frame``, ``body`` and below; nothing of ``weight`` beside it.
"""
