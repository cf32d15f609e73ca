"""What databases keep of a plan's pieces comes back as it was, and stays apart from the public format."""

import json
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.editing.stored import numbered, read_pieces, stored_pieces
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces import Source, StringBed
from kentrobar.core.weight.pieces.piece import RemovalKind
from kentrobar.exchange import convert, models
from tests.core.frames import pieces

sources = st.builds(
    Source, st.integers(0, 9), st.integers(1, 9), st.integers(0, 9), st.sampled_from(RemovalKind)
)
any_pieces = pieces | st.builds(
    StringBed,
    mass_g=st.builds(Estimate, st.floats(10, 20), st.floats(0.01, 1)),
    mains=st.just(16),
    crosses=st.just(19),
)


@given(
    st.lists(
        st.tuples(any_pieces, sources, st.frozensets(st.sampled_from(["overlap", "post_gap"]))), max_size=4
    )
)
def test_pieces_come_back_as_they_were(laid):
    plan = tuple(
        PlanPiece(number, replace(piece, source=source), overruled)
        for number, (piece, source, overruled) in enumerate(laid, 1)
    )
    assert read_pieces(json.loads(json.dumps(stored_pieces(plan)))) == plan


@given(any_pieces)
def test_what_version_1_kept_is_read(piece):
    """Until 1.0 the pieces of a plan were kept as documents of the public format: those are version 1."""
    kept = convert.piece_document(piece).model_dump(exclude_none=True)
    (read,) = read_pieces([{"id": 7, "material": 3, "piece": kept}])
    read_then = convert.piece(TypeAdapter(models.AnyPiece).validate_python(kept))
    assert read == PlanPiece(7, replace(read_then, source=Source(stock=3)))


@given(any_pieces)
def test_a_later_version_is_refused_in_a_sentence(piece):
    (kept,) = stored_pieces(numbered([piece]))
    with pytest.raises(PieceError, match="newer version"):
        read_pieces([{**kept, "v": 3}])
