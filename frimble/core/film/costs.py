"""What a film costs, and when a dearer machine pays."""

from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import InvalidInput, require_between, require_positive


@dataclass(frozen=True)
class FilmCost:
    """Costs of a film process in the shop's money: machine and how many films it makes, then for each film.

    `spoilage` is the share of films thrown away, 0 ≤ spoilage < 1.
    """

    machine: float
    life_films: float
    ink: float
    sheet: float
    spoilage: float

    @property
    def running(self) -> float:
        """Cost of one good film without the machine."""
        return (self.ink + self.sheet) / (1 - self.spoilage)

    @property
    def a_film(self) -> float:
        """Cost of one good film with its share of the machine."""
        return self.machine / self.life_films + self.running


def film_cost(machine: float, life_films: float, ink: float, sheet: float, spoilage: float) -> FilmCost:
    """Checked costs.

    Raises:
        InvalidInput: a negative cost, no life, or everything spoiled.
    """
    for value, what, field in ((machine, "The machine", "machine"), (ink, "Ink", "ink"), (sheet, "The sheet", "sheet")):
        require_between(value, 0, 1e7, f"{what}, in money,", field)
    require_positive(life_films, "The films in the machine's life", "life_films")
    if not 0 <= spoilage < 1:
        raise InvalidInput(f"Spoilage of {spoilage * 100:g} % is not between 0 and 100 %.", "spoilage")
    return FilmCost(machine, life_films, ink, sheet, spoilage)


# Nobody plans further than so many lives of the longer-lived machine.
_LIVES = 3


def spent(cost: FilmCost, films: np.ndarray) -> np.ndarray:
    """Money spent after so many good films (n,): each machine is bought anew when it has made its films."""
    printed = films / (1 - cost.spoilage)
    machines = np.maximum(1, np.ceil(printed / cost.life_films))
    return np.asarray(machines * cost.machine + films * cost.running)


def pays_after(one: FilmCost, other: FilmCost) -> int | None:
    """Films after which the one with the dearer machine has cost less and goes on to; None when it never does.

    Counted over three lives of the longer-lived machine, the machines' replacements among it.
    """
    dear, cheap = (one, other) if one.machine >= other.machine else (other, one)
    films = np.arange(0, int(_LIVES * max(dear.life_films, cheap.life_films)) + 1)
    behind = np.flatnonzero(spent(dear, films) > spent(cheap, films))
    if not len(behind):
        return 0
    return None if behind[-1] == films[-1] else int(films[behind[-1]]) + 1
