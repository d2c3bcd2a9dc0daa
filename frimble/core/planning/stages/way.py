"""What a screen still has to go through until it is ready for press, as steps of a day."""

from dataclasses import dataclass

from frimble.core.conclusions import Settings
from frimble.core.lifecycle import State
from frimble.core.planning.day import Step

# Each step by the ledger's name for it, and where it is done.
SINK, CABINET, BENCH, LAMP, BOOTH, PRINTER = "sink", "cabinet", "coating bench", "lamp", "booth", "film printer"
SKILLS = ("reclaim", "degrease", "coat", "expose", "wash", "inspect")
DRY, FILM, EXPOSE, RECLAIM = "dry", "film", "expose", "reclaim"

# What is done first, by what is on the mesh; from other states no way leads to press as long as nobody clears the mesh.
_FIRST = {
    State.FAILED: RECLAIM,
    State.BARE: "degrease",
    State.DEGREASED: "coat",
    State.PART_COATED: "coat",
    State.COATED: "expose",
    State.EXPOSED: "wash",
    State.WASHED: "inspect",
}


@dataclass(frozen=True)
class OnItsWay:
    """Where a screen stands, as its way is worked out from it.

    Attributes:
        state: what is on its mesh. wet_min: minutes until what dries on it is dry, 0 where nothing is wet.
        layers_left: coats still to be laid. layer_dry_min: minutes one of them dries, and at most.
    """

    state: State
    wet_min: int = 0
    layers_left: int = 1
    layer_dry_min: int | None = None
    layer_dry_most_min: int | None = None


def film_step(settings: Settings) -> Step:
    """A film is made, by hands and the printer."""
    return Step(FILM, int(settings["day.film_min"]), PRINTER)


def wants_film(screen: OnItsWay) -> bool:
    """Whether it is still to be exposed."""
    return has_way(screen.state) and SKILLS.index(_FIRST[screen.state]) <= SKILLS.index(EXPOSE)


def can_go_on(state: State) -> bool:
    """Whether a screen in this state can come to press without being reclaimed first."""
    return _FIRST.get(state, RECLAIM) != RECLAIM


def has_way(state: State) -> bool:
    """Whether its way to press can be planned, be it through a reclaim: a failed stencil is of no use to anybody."""
    return state in _FIRST


def way(screen: OnItsWay, settings: Settings) -> tuple[Step, ...]:
    """The steps until it is ready for press, in order; drying that is under way goes on at once.

    Steps have whole minutes: those of hands from the house settings, of coats as predicted.
    """
    first = _FIRST[screen.state]
    wet = (_dry(screen.wet_min, start_within=0),) if screen.wet_min > 0 else ()
    return wet + tuple(step for step in _whole_way(screen, settings, first))


def _whole_way(screen: OnItsWay, settings: Settings, first: str) -> list[Step]:
    def minutes(key: str) -> int:
        return int(settings[f"day.{key}_min"])

    layer = screen.layer_dry_min or minutes("coat_dry")
    dries = _dry(layer, at_most=screen.layer_dry_most_min)
    coats = [Step("coat", minutes("coat"), BENCH), dries] * max(1, screen.layers_left)
    order = {
        RECLAIM: [Step(RECLAIM, minutes("reclaim"), BOOTH)],
        "degrease": [Step("degrease", minutes("degrease"), SINK), _dry(minutes("mesh_dry"))],
        "coat": coats,
        "expose": [Step("expose", minutes("expose"), LAMP)],
        "wash": [
            Step("wash", minutes("wash"), BOOTH, start_within=minutes("wash_within")),
            _dry(round(settings["wash.dry_min"])),
        ],
        "inspect": [Step("inspect", minutes("finish"))],
    }
    steps = [step for kind in SKILLS[SKILLS.index(first) :] for step in order[kind]]
    # What came before this day does not count against its first step.
    return [Step(steps[0].kind, steps[0].minutes, steps[0].workstation), *steps[1:]]


def _dry(minutes: int, start_within: int | None = None, at_most: int | None = None) -> Step:
    return Step(DRY, minutes, CABINET, hands=False, start_within=start_within, minutes_at_most=at_most)
