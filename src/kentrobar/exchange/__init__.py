"""kentrobar/1, the open exchange format: used alike by command line, import and export.

- ``models``: the documents as pydantic models; units in the keys, unknown keys refused.
- ``convert``: between the models and the values of ``core``.
- ``documents``: reading text safely into a model and answering a request with a document.
"""
