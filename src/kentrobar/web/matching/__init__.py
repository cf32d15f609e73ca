"""Sets: any number of frames made alike.

- ``models`` · ``services`` · ``queries`` · ``forms`` · ``views``
- ``prepared``: the frames of a set in one build, as the rules plan them. ``targets``: what they become.
- ``searching``: searches done by a worker, told as they go. ``tasks``: what the queue calls.
- ``dragging``: what a target under the hand costs. ``showing``: what the page is given.
- ``picture``: balance against swing weight with the box of the target. ``view_models`` · ``cards``: texts.
- ``change_all``: what is changed on all frames at once. ``tables`` · ``paper``: what is handed out.
- ``offered``: what the board of a plan and the page of a frame say of its sets.
"""
