"""Dot angles of separations: sets that shops use, each with its reason."""

from dataclasses import dataclass

SHAPES = {"round": "round", "elliptical": "elliptical", "square": "square", "random": "random, no ruling"}


@dataclass(frozen=True)
class AngleSet:
    """Angles for plates in their order, degrees, and why a shop takes them."""

    name: str
    angles: tuple[float, ...]
    reason: str


# Common practice, no source. Yellow takes the angle whose beat is least seen.
SETS = (
    AngleSet("four-colour", (15, 75, 90, 45), "Cyan, magenta, yellow, black: 30° apart but for yellow, seen least."),
    AngleSet(
        "four-colour, off the threads", (22.5, 52.5, 7.5, 82.5), "The same turned by 7.5°, away from the mesh's own."
    ),
    AngleSet(
        "simulated process", (22.5, 22.5, 22.5, 22.5), "All plates alike: dot on dot, they do not beat with each other."
    ),
    AngleSet("simulated process, steep", (61, 61, 61, 61), "All alike, and steep against the threads."),
)
