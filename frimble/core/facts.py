"""The facts of a record, by its kind: what later steps and learning rest on. Nothing else may stand in them."""

from collections.abc import Collection, Mapping
from functools import cache
from typing import Any, NotRequired, TypedDict, get_args, get_origin, get_type_hints


class Nothing(TypedDict):
    """Kinds that carry no facts."""


class PlaceFacts(TypedDict):
    """slot: its code, empty when the screen was taken out."""

    slot: str


class TakeOffFacts(TypedDict):
    ending: str


class MountedFacts(TypedDict):
    """mesh: its number in the register."""

    mesh: int


class TensionFacts(TypedDict):
    """mean: N/cm. stage: which reading after a stretching here."""

    mean: float
    stage: NotRequired[str]


class DegreaseFacts(TypedDict):
    dwell_s: float
    wet_until: str
    look: NotRequired[str]


class CoatFacts(TypedDict):
    layer: int
    layers: int
    wet_until: str


class AirFacts(TypedDict):
    wet_until: str


class DryCheckFacts(TypedDict):
    """wet_until: None once it was found dry."""

    verdict: str
    wet_until: NotRequired[str | None]


class ThicknessFacts(TypedDict):
    eom_um: float


class ExposeFacts(TypedDict):
    """test: number of the step test that the light was for."""

    is_test: bool
    given_s: float
    test: NotRequired[int]


class WashFacts(TypedDict):
    soak_s: float
    rinse_s: float
    wet_until: str


class InspectFacts(TypedDict):
    passed: bool
    pinholes: int


class HardenFacts(TypedDict):
    """how: by light or a chemical. seconds: of the light."""

    how: str
    seconds: NotRequired[float]


class ImageFacts(TypedDict):
    """Of a thermal image: halftone ruling in lines per inch, and the head's dots per inch along and across."""

    ruling_lpi: NotRequired[float]
    head_dpi: NotRequired[str]


class ReadTestFacts(TypedDict):
    test: int


class ToPressFacts(TypedDict):
    """job: its number, empty where none was named."""

    job: str


class FromPressFacts(TypedDict):
    impressions: int


class ReclaimFacts(TypedDict):
    """products: what was used at each step, with name and dwell in s."""

    rounds: int
    minutes: float
    outcome: str
    products: NotRequired[dict[str, Any]]


SHAPES: Mapping[str, type] = {
    "place": PlaceFacts, "take_off": TakeOffFacts, "mounted": MountedFacts, "tension": TensionFacts,
    "degrease": DegreaseFacts, "coat": CoatFacts, "air": AirFacts, "dry_check": DryCheckFacts,
    "thickness": ThicknessFacts, "expose": ExposeFacts, "wash": WashFacts, "inspect": InspectFacts,
    "image": ImageFacts, "harden": HardenFacts, "read_test": ReadTestFacts, "to_press": ToPressFacts,
    "from_press": FromPressFacts, "reclaim": ReclaimFacts,
}  # fmt: skip


# Pages read these as they are; what else an old record lacks is not known.
_NEVER_LACKING: Mapping[str, frozenset[str]] = {
    "place": frozenset({"slot"}), "tension": frozenset({"mean"}), "harden": frozenset({"how"}),
}  # fmt: skip


def checked(kind: str, facts: Mapping[str, Any]) -> dict[str, Any]:
    """The facts again when they have the shape of their kind.

    Raises:
        TypeError: one is missing, of another type, or not among those of the kind: a slip of the program.
    """
    required = SHAPES.get(kind, Nothing).__required_keys__  # type: ignore[attr-defined]  # `type` hides what a TypedDict has
    if wrong := _wrong(kind, facts, required):
        raise TypeError(f"Facts of {kind}: {', '.join(wrong)}.")
    return dict(facts)


def wrong_in_old(kind: str, facts: Any) -> list[str]:
    """What is wrong with the facts of a record that another shop or an earlier version wrote; it may lack some."""
    if not isinstance(facts, Mapping):
        return ["values by their names are wanted"]
    return _wrong(kind, facts, _NEVER_LACKING.get(kind, frozenset()))


def _wrong(kind: str, facts: Mapping[str, Any], required: Collection[str]) -> list[str]:
    hints = _hints(SHAPES.get(kind, Nothing))
    return [
        *(f"{name} is missing" for name in sorted(required) if name not in facts),
        *(f"{name} does not belong to it" for name in sorted(facts) if name not in hints),
        *(
            f"{name} is of another type"
            for name, value in facts.items()
            if name in hints and not _is(value, hints[name])
        ),
    ]


@cache
def _hints(shape: type) -> dict[str, Any]:
    return get_type_hints(shape)


def _is(value: Any, hint: Any) -> bool:
    """Whether a value is of a hinted type; a whole number will do for a float."""
    options = get_args(hint) if get_origin(hint) not in (None, dict) else (hint,)
    plain = tuple(get_origin(option) or option for option in options)
    if float in plain and isinstance(value, int) and not isinstance(value, bool):
        return True
    return isinstance(value, plain) and not (isinstance(value, bool) and bool not in plain)
