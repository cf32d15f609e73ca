"""Every public number of the rules says in which unit it is, in its name or in its docstring."""

import importlib
import inspect
import pkgutil
import re

import kentrobar.core

NUMBERS = re.compile(
    r"(float|Estimate|Quantity|Amount|Array|NDArray\[np\.float64\])( \| None)?"
    r"|(list|tuple|Sequence|Iterator)\[(float|Estimate)(, (\.\.\.|float))*\]"
)
IN_NAME = re.compile(
    r"_(g|mg|cm|mm|s|ms|kgcm2|gcm2|gcm|cm2|cms2|kgcm3|deg|rad|hz|u|percent|part|px|years|days|minutes|hours|pt)s?$"
    r"|per_cm|points|chance|probability|ratio|factor|likelihood|correlation|surprise"
)
IN_WORDS = re.compile(
    r"\b(g|mg|oz|cm|mm|s|ms|kg·cm²|g·cm²?|cm²|cm/s²?|m/s|rad/s|°|Hz|pixels?|per ?cent|parts?|points?|degrees|"
    r"radians|minutes|hours|days|years|units?|money|chance|probability|relative|variance|covariance|squared?|"
    r"deviations?|0 to 1|-1 to 1|of 1|from 0|sums to|matrix|score|numbers|factor|[Rr]atio|currency|"
    r"1 for|[Hh]ow many|count|NaN|±)(\b|(?<=[²°±]))|%",
    re.IGNORECASE,
)


def numbers_of_the_rules():
    """Each public function, method and property of core that answers a number that is no count."""
    for found in pkgutil.walk_packages(kentrobar.core.__path__, "kentrobar.core."):
        module = importlib.import_module(found.name)
        for name, value in vars(module).items():
            if name.startswith("_") or getattr(value, "__module__", "") != found.name:
                continue
            if inspect.isfunction(value):
                yield f"{found.name}.{name}", value, inspect.getdoc(value)
            elif inspect.isclass(value):
                for own, member in vars(value).items():
                    call = getattr(member, "fget", None) or getattr(member, "func", member)
                    if not own.startswith("_") and inspect.isfunction(call):
                        yield f"{found.name}.{name}.{own}", call, inspect.getdoc(getattr(value, own))


def test_every_public_number_tells_its_unit():
    answers = [
        (name, call.__annotations__.get("return", ""), told) for name, call, told in numbers_of_the_rules()
    ]
    numbers = [(name, told) for name, kind, told in answers if NUMBERS.fullmatch(str(kind))]
    assert len(numbers) > 150
    silent = [
        name
        for name, told in numbers
        if not IN_NAME.search(name.rpartition(".")[2]) and not IN_WORDS.search(told or "")
    ]
    assert not silent, "\n".join(silent)
