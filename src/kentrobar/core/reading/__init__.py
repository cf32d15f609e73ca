"""Can this reading be trusted? Several of one spec, calibration, swings, slips, readings compared.

- taking them: ``series`` · ``calibration`` · ``timing`` · ``columns`` and ``recordings`` (a file of a swing)
  · ``pendulum`` · ``air`` · ``swinging``
- judging them: ``checks`` · ``reference_population`` · ``reference_ranges``
  · ``slips`` · ``crosscheck`` · ``comparing``
- imports ``frame``, ``body`` and below; nothing of ``weight`` beside it.
"""
