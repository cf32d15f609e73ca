"""Every write of trials."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from kentrobar.core.editing.stored import numbered, read_pieces, stored_pieces
from kentrobar.core.play.trial_setups import Made, Steps, make_setups
from kentrobar.core.play.trials import Preference
from kentrobar.core.quantities.errors import KentrobarError, SpecError
from kentrobar.core.solving.supply import Workpiece
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.records import locked, write
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan
from kentrobar.web.play.models import Trial, TrialAsk, TrialSetup, address_end
from kentrobar.web.play.trials.trial_state import TrialState, trial_state
from kentrobar.web.shops.models import User, secret_address


class TrialRequest(NamedTuple):
    """What a trial is to find: of what, on which frames, with what, and how it is answered."""

    frame: Frame
    work: Workpiece
    steps: Sequence[Steps]
    held: Sequence[str]
    twin: Frame | None = None
    twin_work: Workpiece | None = None
    way: str = Trial.Way.COMPARE
    is_blind: bool = True


def plan_trial(trial_request: TrialRequest, by: User) -> Trial:
    """Work out the setups of a trial, keep them, and ask the first.

    Raises:
        KentrobarError: the setups cannot be made, of the frame or of its twin.
    """
    if trial_request.frame.specs is None:
        raise SpecError("Measure this frame first.", code="not_measured")
    axis_cm = trial_request.frame.measured.axis_cm
    made = make_setups(trial_request.work, trial_request.steps, trial_request.held, axis_cm)
    twins = _twins(trial_request, made, axis_cm)
    return _keep(trial_request, trial_request.frame.specs, made, twins, by)


def _twins(trial_request: TrialRequest, made: Made, axis_cm: float) -> Made | None:
    """The same setups for the twin. Raises KentrobarError where one of them cannot be made on it."""
    if trial_request.twin_work is None:
        return None
    twins = make_setups(trial_request.twin_work, trial_request.steps, trial_request.held, axis_cm)
    keys = [each.key for each in trial_request.steps]
    apart = [
        abs(a.value(key) - b.value(key)) > 2 * each.step / 3
        for a, b in zip(made.setups, twins.setups, strict=False)
        for key, each in zip(keys, trial_request.steps, strict=True)
    ]
    if len(twins.setups) != len(made.setups) or any(apart):
        raise SpecError(
            "The two frames do not reach the same values. Match them first, or test one of them.",
            code="unlike_twins",
            field="twin",
        )
    return twins


@transaction.atomic
def _keep(trial_request: TrialRequest, sheet: SpecSheet, made: Made, twins: Made | None, by: User) -> Trial:
    frame = trial_request.frame
    keys = [each.key for each in trial_request.steps]
    trial = Trial.objects.create(
        shop_id=frame.shop_id,
        frame=frame,
        twin=trial_request.twin,
        specs=sheet,
        sought=keys,
        held=list(trial_request.held),
        axis_cm=frame.measured.axis_cm,
        way=trial_request.way,
        is_blind=trial_request.is_blind,
        seed=secrets.randbelow(2**31),
        created_by=by,
        missed=[list(values) for values in made.missed],
    )
    TrialSetup.objects.bulk_create(
        TrialSetup(
            trial=trial,
            number=number,
            values=[setup.value(key) for key in keys],
            pieces=stored_pieces(numbered(setup.pieces)),
            twin_pieces=stored_pieces(numbered(twins.setups[number].pieces)) if twins else [],
        )
        for number, setup in enumerate(made.setups)
    )
    _ask_next(trial_state(trial))
    return trial


def _ask_next(state: TrialState) -> None:
    """Keep what is to be asked next; where the trial is over it ends."""
    following = state.next()
    if following is None:
        write(state.trial, ended_at=timezone.now())
        return
    TrialAsk.objects.create(
        trial=state.trial,
        number=len(state.asks) + 1,
        purpose=following.purpose,
        first=following.first,
        second=following.second,
    )


@transaction.atomic
def answer(trial: Trial, number: int, *, said: str = "", rated: int = 0) -> None:
    """Take the answer to what is asked now, and ask the next. The same answer sent twice is taken once.

    Raises:
        KentrobarError: it is no answer to this trial, something else is asked now, or the trial is over.
    """
    trial = locked(trial)
    state = trial_state(trial)
    if trial.rates != bool(rated) or (not trial.rates and said not in set(Preference)) or rated > 7:
        raise KentrobarError("Choose one of the answers.", code="no_answer", field="said")
    last = state.last_answered
    if last and last.number == number and (last.said, last.rated or 0) == (said, rated):
        return
    if trial.ended_at is not None:
        raise _over()
    now = state.open
    if now is None or now.number != number:
        raise KentrobarError(
            "This was answered already. Look at the next question.", code="conflict", field="said"
        )
    write(now, said=said, rated=rated or None, answered_at=timezone.now())
    _ask_next(trial_state(trial))


def _over() -> KentrobarError:
    return KentrobarError("This play test is over. Your answers are kept.", code="ended")


@transaction.atomic
def take_back(trial: Trial, number: int, *, reopens: bool = False) -> None:
    """Ask again what was answered last, which has this number; the answer is kept as withdrawn.

    A trial that is over goes on only where ``reopens`` says so.

    Raises:
        KentrobarError: another answer is the last by now, or the trial is over.
    """
    trial = locked(trial)
    if trial.ended_at is not None and not reopens:
        raise _over()
    state = trial_state(trial)
    last = state.last_answered
    if last is None or last.number != number:
        raise KentrobarError("There is a newer answer. Look again.", code="conflict", field="said")
    now = timezone.now()
    trial.asks.filter(withdrawn_at=None, number__gte=number).update(withdrawn_at=now)
    TrialAsk.objects.create(
        trial=trial, number=number, purpose=last.purpose, first=last.first, second=last.second
    )
    write(trial, ended_at=None)


def renew_address(trial: Trial) -> None:
    """Give a trial another address, so that the one that was handed out leads nowhere."""
    write(trial, secret=secret_address(), address_until=address_end())


@transaction.atomic
def end(trial: Trial) -> None:
    """Ask no more."""
    trial = locked(trial)
    if trial.ended_at is None:
        write(trial, ended_at=timezone.now())


@transaction.atomic
def lay_setup(setup: TrialSetup, by: User) -> Plan:
    """The plan of a setup on the board, made once."""
    kept = locked(setup)
    if kept.plan:
        return kept.plan
    trial = setup.trial
    plan = create_plan(
        trial.frame,
        by,
        name=f"Trial {trial.pk}, setup {setup.number}",
        axis_cm=trial.axis_cm,
        pieces=read_pieces(setup.pieces),
        start=trial.specs,
    )
    write(setup, plan=plan)
    return plan
