"""kentrobar/1, the open exchange format: used alike by command line, import and export.

- ``models``: the documents as pydantic models; units in the keys, unknown keys refused.
- ``convert``: between the models and the values of ``core``.
- ``reading``: text safely into a model. ``frames``: what a document claims of a frame, checked.
- ``documents`` · ``matches`` (with its ``targets``): answering a request with a document.
"""
