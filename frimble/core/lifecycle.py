"""The life of a stencil on its screen: states, the steps between them, and why a step may not be done now.

Three lines: photo emulsion, thermal film (a mesh with its film welded on, cut out after the job) and hand stencil.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Any

from frimble.core.conclusions import InvalidInput, Settings
from frimble.core.units import show_minutes


class Line(StrEnum):
    """Which way a mesh gets its stencil."""

    PHOTO = "photo"
    THERMAL = "thermal"
    HAND = "hand"


class State(StrEnum):
    """What is on the mesh."""

    BARE = "bare"
    DEGREASED = "degreased"
    PART_COATED = "part_coated"
    COATED = "coated"
    EXPOSED = "exposed"
    WASHED = "washed"
    FAILED = "failed"
    READY = "ready"
    AT_PRESS = "at_press"
    PRINTED = "printed"
    STRIPPED = "stripped"
    NO_MESH = "no_mesh"
    AWAY = "away"


STATE_WORDS = {
    State.BARE: "clean, bare mesh",
    State.DEGREASED: "degreased",
    State.PART_COATED: "coated, more layers to come",
    State.COATED: "coated",
    State.EXPOSED: "exposed, not washed out",
    State.WASHED: "washed out, to inspect",
    State.FAILED: "stencil failed, to reclaim",
    State.READY: "ready for press",
    State.AT_PRESS: "on press",
    State.PRINTED: "back from press, ink in",
    State.STRIPPED: "ink out, stencil kept",
    State.NO_MESH: "frame without mesh",
    State.AWAY: "frame out for new mesh",
}

# What a state is called where no emulsion and no water is used.
_OTHER_LINES = {
    (Line.THERMAL, State.WASHED): "image burned, to inspect",
    (Line.THERMAL, State.FAILED): "image failed, to cut out",
    (Line.THERMAL, State.PRINTED): "back from press, to cut out",
    (Line.HAND, State.WASHED): "stencil made, to inspect",
}


def state_words(state: State, line: Line) -> str:
    """What a state is called on a line."""
    return _OTHER_LINES.get((line, state), STATE_WORDS[state])


# Mesh that carries unexposed emulsion: dark places only.
LIVE = frozenset({State.PART_COATED, State.COATED})


@dataclass(frozen=True)
class Step:
    """One thing done to a screen: from which states, to which state, on which lines, and the verb for a button."""

    kind: str
    label: str
    sources: frozenset[State]
    target: State | None
    lines: frozenset[Line]
    closes_cycle: bool = False
    ends_mesh: bool = False


def _step(
    kind: str,
    label: str,
    sources: Iterable[State],
    target: State | None,
    lines: Iterable[Line] = (Line.PHOTO,),
    closes_cycle: bool = False,
    ends_mesh: bool = False,
) -> Step:
    return Step(kind, label, frozenset(sources), target, frozenset(lines), closes_cycle, ends_mesh)


_EVERY_LINE = tuple(Line)

STEPS: Mapping[str, Step] = {
    s.kind: s
    for s in (
        _step("degrease", "Degrease", [State.BARE, State.DEGREASED], State.DEGREASED, (Line.PHOTO, Line.HAND)),
        _step("dry_mesh", "Record mesh dry", [State.DEGREASED], State.DEGREASED, (Line.PHOTO, Line.HAND)),
        _step("coat", "Coat", [State.DEGREASED, State.PART_COATED], State.COATED),
        _step("expose", "Expose", [State.COATED], State.EXPOSED),
        _step("wash", "Wash out", [State.EXPOSED], State.WASHED),
        _step("image", "Burn the image", [State.BARE], State.WASHED, (Line.THERMAL,)),
        _step("block_out", "Draw or cut the stencil", [State.DEGREASED], State.WASHED, (Line.HAND,)),
        _step("inspect", "Inspect", [State.WASHED, State.STRIPPED], State.READY, _EVERY_LINE),
        _step("to_press", "Send to press", [State.READY, State.STRIPPED], State.AT_PRESS, _EVERY_LINE),
        _step("from_press", "Back from press", [State.AT_PRESS], State.PRINTED, _EVERY_LINE),
        _step("strip", "Strip ink", [State.PRINTED], State.STRIPPED, (Line.PHOTO, Line.HAND)),
        _step("reclaim", "Reclaim",
              [State.STRIPPED, State.FAILED, State.READY, State.WASHED, State.COATED, State.PART_COATED],
              State.BARE, (Line.PHOTO, Line.HAND), closes_cycle=True),
        _step("cut_out", "Cut out the mesh", [State.PRINTED, State.FAILED], State.NO_MESH, (Line.THERMAL,),
              closes_cycle=True, ends_mesh=True),
        _step("take_off", "Take the mesh off", [s for s in State if s not in (State.AT_PRESS, State.NO_MESH, State.AWAY)],
              State.NO_MESH, _EVERY_LINE, ends_mesh=True),
        _step("send_away", "Send out for new mesh", [State.NO_MESH], State.AWAY, _EVERY_LINE),
    )
}  # fmt: skip

# Records after which the mesh is off its frame.
MESH_ENDS = tuple(kind for kind, step in STEPS.items() if step.ends_mesh)

# The order in which a page offers what may be done; the first allowed one is the next thing to do.
_PREFERENCE = (
    "coat", "block_out", "dry_mesh", "degrease", "image", "expose", "wash", "inspect", "from_press", "strip", "to_press",
    "cut_out", "reclaim", "send_away", "take_off",
)  # fmt: skip

# What the hand does before a step that is not yet possible, for the reason line.
_BEFORE = {
    "coat": "degrease and dry the mesh first",
    "expose": "coat it and let it dry first",
    "wash": "expose it first",
    "inspect": "there is no finished stencil to inspect",
    "to_press": "a stencil must be inspected and passed first",
    "from_press": "it is not on press",
    "strip": "there is no ink in it",
    "reclaim": "there is nothing to reclaim",
    "degrease": "only a bare mesh is degreased",
    "dry_mesh": "there is no rinsed mesh drying",
    "image": "only a fresh thermal mesh takes an image",
    "block_out": "degrease the mesh first",
    "cut_out": "only a used thermal mesh is cut out",
    "take_off": "there is no mesh to take off here",
    "send_away": "take the old mesh off first",
}


_WITH_STENCIL = (State.WASHED, State.READY, State.AT_PRESS, State.PRINTED, State.STRIPPED, State.FAILED)

# Where what comes first depends on what is on the mesh.
_BEFORE_IN = {
    **{
        (kind, state): "its stencil has to be reclaimed first" for kind in ("coat", "expose") for state in _WITH_STENCIL
    },
    ("expose", State.EXPOSED): "it has had its light: wash it out",
    ("reclaim", State.PRINTED): "strip the ink first",
    ("reclaim", State.AT_PRESS): "record it back from press first",
    ("reclaim", State.EXPOSED): "wash it out first",
}


def _before(kind: str, state: State) -> str:
    """What the hand does first, by what is on the mesh."""
    return _BEFORE_IN.get((kind, state), _BEFORE[kind])


@dataclass(frozen=True)
class Event:
    """One record of a screen's life as the rules need it: what, when, and the few facts that later steps rest on."""

    kind: str
    at: datetime
    facts: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Life:
    """Where a screen stands: the projection of its records.

    Attributes:
        since: when it came into this state, None for a fresh mesh.
        wet_until: when what is on the mesh is expected to be dry, None when nothing is drying.
        layers_done, layers: of the coat formula.
        is_test: the stencil is a step test, not a job.
        cycles: closed cycles of this mesh.
        slot: code of the rack slot it stands in, empty when it is out.
        tension_n_per_cm, tension_at: last measurement of this mesh.
    """

    line: Line
    state: State
    since: datetime | None = None
    wet_until: datetime | None = None
    layers_done: int = 0
    layers: int = 0
    coated_at: datetime | None = None
    is_test: bool = False
    cycles: int = 0
    slot: str = ""
    tension_n_per_cm: float | None = None
    tension_at: datetime | None = None

    def wet(self, now: datetime) -> bool:
        return self.wet_until is not None and now < self.wet_until


@dataclass(frozen=True)
class StepVerdict:
    """Whether a step may be done now, and why or why not."""

    step: Step
    allowed: bool
    reason: str
    overridable: bool = False
    warning: str = ""


def project(line: Line, events: Iterable[Event], has_mesh: bool = True) -> Life:
    """Replay a mesh's records, oldest first, and say where it stands."""
    life = Life(line, State.BARE if has_mesh else State.NO_MESH)
    for event in events:
        life = advance(life, event)
    return life


def advance(life: Life, event: Event) -> Life:
    """The life after one more record. Every step takes the screen out of its slot; unknown kinds change nothing."""
    if event.kind == "place":
        return replace(life, slot=event.facts["slot"])
    if event.kind == "tension":
        return replace(life, tension_n_per_cm=event.facts["mean"], tension_at=event.at)
    if event.kind in ("dry_check", "air"):
        return replace(life, wet_until=event.facts.get("wet_until"))
    step = STEPS.get(event.kind)
    if step is None:
        return life
    moved = replace(
        life,
        state=_target(step, event),
        since=event.at,
        wet_until=event.facts.get("wet_until"),
        cycles=life.cycles + step.closes_cycle,
        slot="",
    )
    if step.kind == "coat":
        moved = replace(
            moved,
            layers_done=event.facts["layer"],
            layers=event.facts["layers"],
            coated_at=event.at,
        )
    if step.kind == "expose":
        moved = replace(moved, is_test=bool(event.facts.get("is_test")))
    if step.closes_cycle or step.ends_mesh:
        moved = replace(moved, layers_done=0, layers=0, coated_at=None, is_test=False)
    return moved


def _target(step: Step, event: Event) -> State:
    if step.kind == "coat" and event.facts["layer"] < event.facts["layers"]:
        return State.PART_COATED
    if step.kind == "inspect" and not event.facts.get("passed", True):
        return State.FAILED
    if step.target is None:
        raise ValueError(f"The step {step.kind} leads to no state by itself.")
    return step.target


def verdict(life: Life, kind: str, now: datetime, settings: Settings) -> StepVerdict:
    """Whether one step may be done now.

    Raises:
        InvalidInput: there is no such step.
    """
    step = STEPS.get(kind)
    if step is None:
        raise InvalidInput(f"There is no step “{kind}”.", "step")
    if life.line not in step.lines:
        return StepVerdict(step, False, f"{step.label}: not part of a {LINE_WORDS[life.line]}'s life.")
    if life.state not in step.sources:
        return StepVerdict(step, False, f"It is {state_words(life.state, life.line)}: {_before(kind, life.state)}.")
    return _guarded(life, step, now, settings)


LINE_WORDS = {Line.PHOTO: "photo-emulsion stencil", Line.THERMAL: "thermal-film stencil", Line.HAND: "hand stencil"}


def next_steps(life: Life, now: datetime, settings: Settings) -> list[StepVerdict]:
    """Every step of this line with its verdict: allowed ones first, in the order they are usually wanted."""
    verdicts = [verdict(life, kind, now, settings) for kind in _PREFERENCE if life.line in STEPS[kind].lines]
    return sorted(verdicts, key=lambda v: (_urgency(life, v), _PREFERENCE.index(v.step.kind)))


def _urgency(life: Life, found: StepVerdict) -> int:
    """Onward steps, then those that only wait, then giving up what is on the mesh, then the impossible."""
    if not found.allowed:
        return 1 if found.overridable else 3
    if found.step.kind == "take_off":
        return 2
    gives_up = found.step.kind == "reclaim" and life.state in (*LIVE, State.READY, State.WASHED)
    return 2 if gives_up and not life.is_test else 0


def _guarded(life: Life, step: Step, now: datetime, settings: Settings) -> StepVerdict:
    if life.since and now < life.since - timedelta(seconds=5):
        return StepVerdict(step, False, "Its last record is later than this time: check date and clock.")
    if step.kind in ("coat", "block_out", "expose") and life.wet(now):
        return StepVerdict(step, False, _wet_reason(life, step, now), overridable=True)
    if step.kind == "dry_mesh" and not life.wet(now):
        return StepVerdict(step, False, "Its drying time is over: it may be coated.")
    if step.kind == "to_press" and life.is_test:
        return StepVerdict(step, False, "It carries a step test, not a job: read the test, then reclaim.")
    if step.kind == "inspect" and life.is_test:
        return StepVerdict(step, False, "It carries a step test: read the test instead.")
    return StepVerdict(step, True, _ready_reason(life, step, now), warning=_warning(life, step, now, settings))


def _minutes_between(earlier: datetime | None, later: datetime | None) -> str:
    return show_minutes((later - earlier).total_seconds() / 60) if earlier and later else "a while"


def _wet_reason(life: Life, step: Step, now: datetime) -> str:
    left = _minutes_between(now, life.wet_until)
    ago = _minutes_between(life.since, now)
    if step.kind == "expose":
        return f"Do not expose yet: coated {ago} ago, held as wet for {left} more. A scale or a meter tells sooner."
    if life.state == State.PART_COATED:
        return f"Layer {life.layers_done} of {life.layers} is drying: laid {ago} ago, held as wet for {left} more."
    return f"Still wet: rinsed {ago} ago, about {left} more. If a dry hand feels it dry, record that."


def _ready_reason(life: Life, step: Step, now: datetime) -> str:
    if step.kind == "dry_mesh":
        return "Dry to a clean hand on both sides, by touch and against light, sooner than the clock says."
    if step.kind == "coat" and life.state == State.PART_COATED:
        return f"Layer {life.layers_done + 1} of {life.layers} is next."
    if step.kind == "expose" and life.coated_at:
        return f"Coated {show_minutes((now - life.coated_at).total_seconds() / 60)} ago; by the clock it is dry."
    if step.kind == "take_off":
        return "Ends this mesh's life: for a mesh that is slack, torn, hazed for good, or not worth its cost."
    if step.kind == "reclaim" and life.state in LIVE:
        return "Gives up the coat that is on it."
    return f"It is {state_words(life.state, life.line)}."


def _warning(life: Life, step: Step, now: datetime, settings: Settings) -> str:
    if step.kind == "expose" and life.coated_at:
        days = (now - life.coated_at).days
        if days > settings["coat.keeps_days"]:
            return (
                f"Coated {days} days ago; coats keep {settings['coat.keeps_days']:g}. "
                "It may not wash out: reclaim it, or test it first."
            )
    if step.kind == "degrease" and life.state == State.DEGREASED:
        return "Already degreased: once more does no harm if it was touched."
    return ""


def place_refused(life: Life) -> str:
    """Why the screen may not go to the rack now; empty when it may."""
    if life.state == State.AT_PRESS:
        return "It is on press: record it back from press first."
    if life.state == State.AWAY:
        return "It is out for new mesh: mount the mesh first."
    return ""


def tension_refused(life: Life, now: datetime) -> str:
    """Why tension may not be measured now; empty when it may."""
    if life.state in (State.NO_MESH, State.AWAY):
        return "There is no mesh on this frame."
    if life.state in LIVE and life.wet(now):
        return "The coat is wet: a gauge would mark it. Measure when it is dry."
    return ""
