"""The command line: answers from kentrobar/1 documents, without a database."""

from __future__ import annotations

import argparse
import ctypes
import json
import os
import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.columns import LARGEST_RECORDING_BYTES
from kentrobar.exchange import documents, impacts, matches, models, reading, rounds, trials

BAD_INPUT = 2

# name: (the document it reads, what answers it, what it is for)
DOCUMENTS: dict[str, tuple[type[BaseModel], Callable[[Any], BaseModel], str]] = {
    "predict": (
        models.PredictRequest,
        documents.answer_predict,
        "specs before and after laying pieces on a frame",
    ),
    "pendulum": (
        models.PendulumRequest,
        documents.answer_pendulum,
        "swing weight from the period of a hanging frame",
    ),
    "match": (models.MatchRequest, matches.answer_match, "the least weight that brings frames to a target"),
    "rounds": (
        models.RoundsRequest,
        rounds.answer_rounds,
        "a frame on the bench by all that was laid and read, and the next trim",
    ),
    "impact": (
        models.ImpactRequest,
        impacts.answer_impact,
        "what hits on the face do, before and after laying pieces",
    ),
    "trials": (
        models.TrialsRequest,
        trials.answer_trials,
        "which specs a player likes best, and what to try next",
    ),
}


def _of_document(kind: type[BaseModel], answer_to: Callable[[Any], BaseModel]) -> Answer:
    return lambda data: answer_to(reading.read_document(data, kind))


Answer = Callable[[bytes], BaseModel]
# name: (what answers the bytes of a file, what it reads, what it is for)
COMMANDS: dict[str, tuple[Answer, str, str]] = {
    name: (_of_document(kind, answer_to), "a kentrobar/1 document", what)
    for name, (kind, answer_to, what) in DOCUMENTS.items()
} | {
    "recording": (
        documents.answer_recording,
        "a CSV file of a sensor, a camera or a light gate",
        "the period of a recorded swing",
    )
}


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns 0, or 2 with one line on standard error for bad input."""
    parser = argparse.ArgumentParser(prog="kentrobar", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, (_, read, what) in COMMANDS.items():
        command = commands.add_parser(name, help=what)
        command.add_argument("file", metavar="FILE", help=f"{read}; - is standard input")
    commands.add_parser("schema", help="print the JSON Schema of the format")
    chosen = parser.parse_args(arguments)
    if chosen.command == "schema":
        print(json.dumps(schema(), indent=2, ensure_ascii=False))
        return 0
    try:
        answer_to, _, _ = COMMANDS[chosen.command]
        data = _read(chosen.file)
        with silent_libraries():
            answer = answer_to(data)
    except (KentrobarError, OSError) as error:
        print(_one_line(error), file=sys.stderr)
        return BAD_INPUT
    print(answer.model_dump_json(indent=2))
    return 0


@contextmanager
def silent_libraries() -> Iterator[None]:
    """Keep standard output for the answer: the solver's library prints there past Python."""
    sys.stdout.flush()
    kept, nowhere = os.dup(1), os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 1)
    try:
        yield
    finally:
        ctypes.CDLL(None).fflush(None)  # what it has printed may still wait in its buffer
        os.dup2(kept, 1)
        os.close(kept)
        os.close(nowhere)


def schema() -> dict[str, object]:
    """The JSON Schema of what is read and printed, from the models themselves."""
    kinds: dict[str, type[BaseModel]] = {
        "predict_request": models.PredictRequest,
        "predict_answer": models.PredictAnswer,
        "pendulum_request": models.PendulumRequest,
        "pendulum_answer": models.PendulumAnswer,
        "recording_answer": models.RecordingAnswer,
        "match_request": models.MatchRequest,
        "match_answer": models.MatchAnswer,
        "rounds_request": models.RoundsRequest,
        "rounds_answer": models.RoundsAnswer,
        "impact_request": models.ImpactRequest,
        "impact_answer": models.ImpactAnswer,
        "trials_request": models.TrialsRequest,
        "trials_answer": models.TrialsAnswer,
    }
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": models.FORMAT} | {
        name: kind.model_json_schema() for name, kind in kinds.items()
    }


def _read(name: str) -> bytes:
    """The file's bytes, one more than allowed at most, so that a huge file is never held."""
    limit = max(reading.LARGEST_DOCUMENT_BYTES, LARGEST_RECORDING_BYTES) + 1
    if name == "-":
        return sys.stdin.buffer.read(limit)
    with Path(name).open("rb") as file:
        return file.read(limit)


def _one_line(error: Exception) -> str:
    if isinstance(error, OSError):
        return f"{error.filename}: {error.strerror}; check the file's name."
    return " ".join(str(error).split())


if __name__ == "__main__":
    sys.exit(main())
