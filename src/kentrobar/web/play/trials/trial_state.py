"""A trial as it stands: what was asked, what the answers tell, what is asked now."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from kentrobar.core.body.specs import AIMED_BY_KEY, AimedSpec
from kentrobar.core.play.trial_design import (
    AnsweredQuestion,
    Ask,
    Purpose,
    answers_of,
    found_of,
    is_careless,
    is_settled,
    next_ask,
    next_rating,
)
from kentrobar.core.play.trials import Consistency, Design, Posterior, Preference, consistency
from kentrobar.web.play.models import Trial, TrialAsk, TrialSetup


@dataclass(frozen=True)
class TrialState:
    """A trial with its setups and what was asked and not withdrawn, the last of which may be open."""

    trial: Trial
    setups: list[TrialSetup]
    asks: list[TrialAsk]

    @property
    def sought(self) -> list[AimedSpec]:
        """The specs that are sought."""
        return [AIMED_BY_KEY[key] for key in self.trial.sought]

    @property
    def open(self) -> TrialAsk | None:
        """What is asked now; None where nothing is."""
        last = self.asks[-1] if self.asks else None
        return None if last is None or last.is_answered or self.trial.ended_at else last

    @property
    def last_answered(self) -> TrialAsk | None:
        """What was answered last, which may be taken back."""
        return next((each for each in reversed(self.asks) if each.is_answered), None)

    @cached_property
    def answered(self) -> list[AnsweredQuestion]:
        """What was answered."""
        return [
            AnsweredQuestion(
                Ask(Purpose(each.purpose), each.first, each.second),
                Preference(each.said) if each.said else None,
                each.rated,
            )
            for each in self.asks
            if each.is_answered
        ]

    @cached_property
    def found(self) -> Posterior:
        """What the answers tell."""
        design = Design(tuple(tuple(setup.values) for setup in self.setups))
        return found_of(design, self.answered)

    @cached_property
    def consistency(self) -> Consistency:
        """How often what was asked again got the same answer."""
        return consistency(answers_of(self.answered))

    @property
    def is_settled(self) -> bool:
        """Whether more comparisons would tell nothing that the player feels; ratings cannot say so."""
        return not self.trial.rates and is_settled(self.found, self.answered)

    @property
    def is_careless(self) -> bool:
        """Whether the answers do not hang together, as far as that can be told of comparisons."""
        return not self.trial.rates and is_careless(self.found, self.answered)

    @property
    def fitted(self) -> int | None:
        """The setup that lies on the frame since what was answered last; None before."""
        return self.answered[-1].ask.second if self.answered and self.trial.twin_id is None else None

    def next(self) -> Ask | None:
        """What is to be asked next; None where the trial is over."""
        if self.trial.rates:
            return next_rating(self.found, self.answered)
        return next_ask(
            self.found, self.answered, is_blind=self.trial.is_blind, fitted=self.fitted, seed=self.trial.seed
        )


def trial_state(trial: Trial) -> TrialState:
    """A trial with all of its rows, which may be fetched before."""
    asked = [each for each in trial.asks.all() if each.withdrawn_at is None]
    return TrialState(trial, list(trial.setups.all()), asked)
