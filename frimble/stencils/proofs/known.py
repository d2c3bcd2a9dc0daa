"""What the shop knows of a combination, for a proof: its cure, its coat, its film's density."""

from dataclasses import asdict, dataclass

from frimble.coatings.models import Emulsion
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.chart import times as chart_times
from frimble.core.statistics.interval import Interval
from frimble.core.stencil.proof.constants import ProofConstants, constants
from frimble.core.units import show_seconds
from frimble.exposures.chart import prediction
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.models import Lamp
from frimble.exposures.room import LightRoom
from frimble.films.models import FilmProcess
from frimble.screens.models import MeshType


@dataclass(frozen=True)
class Combination:
    """A coat on a mesh under a lamp through a film process."""

    mesh: MeshType
    formula: str
    emulsion: Emulsion
    lamp: Lamp
    film_process: FilmProcess


@dataclass(frozen=True)
class Known:
    """What a proof rests on, the time that is given here, else the middle of the predicted window, and its end.

    `closes_s` is when the finest wanted detail closes; None where a test bracketed the cure alone.
    """

    constants: ProofConstants
    time_s: float
    closes_s: float | None


def known_of(of: Combination, settings) -> Known:
    """What is known of a combination.

    Raises:
        InvalidInput: the formula does not parse. RuleViolation: the film's density is not known, or nothing tells how long
            it cures.
    """
    formula = parse_formula(of.formula, settings)
    room, geometry = LightRoom(settings), of.mesh.geometry(settings)
    over = thickness_queries.expected(of.mesh, formula, of.emulsion, settings).known
    density, density_words = _density(of.film_process)
    full, closes, time_s, cure_words = _cure(of, str(formula), room)
    said = (cure_words, density_words, f"{over:.0f} µm of emulsion over the mesh, as predicted here.")
    yellow = of.mesh.colour == of.mesh.Colour.YELLOW
    rests = constants(geometry, yellow, max(0.0, over), full, closes, density, settings, said)
    return Known(rests, time_s, closes)


def _density(process: FilmProcess) -> tuple[tuple[float, float], str]:
    for band, words in (("uv", "in UV"), ("visual", "to the eye, since nobody has measured it in UV")):
        reading = process.density(band)
        if reading is not None:
            bound = "at least " if reading.at_least else ""
            return (reading.dmax, reading.dmin), f"Black {bound}{reading.dmax:.2f}, clear {reading.dmin:.2f} {words}."
    raise RuleViolation(f"Nobody has measured how black {process} is: do that first.")


def _cure(of: Combination, formula: str, room: LightRoom) -> tuple[Interval, float | None, float, str]:
    """Full cure with its interval, when detail closes, the time to show, and what that rests on."""
    wanted = chart_times.Conditions(str(of.mesh), formula, of.emulsion.name, of.lamp.name, of.film_process.name)
    entry = next((e for e in chart_queries.entries_in_force() if e.conditions == wanted), None)
    if entry and entry.cured_low_s is not None:
        low, high = entry.cured_low_s, entry.cured_high_s
        closes = (entry.closes_low_s * entry.closes_high_s) ** 0.5 if entry.has_window else None
        middle = (low * high) ** 0.5
        return (
            Interval(middle, low, high),
            closes,
            entry.time_s,
            f"Cured in {show_seconds(middle)}, by a step test here.",
        )
    facts = prediction.facts_of(of.mesh, formula, of.emulsion, of.lamp, of.film_process, room)
    window = prediction.learned(room.settings).prediction(facts)
    cured = window.cured_s
    words = f"Cured in about {show_seconds(cured.value)}, predicted: no step test here bracketed it."
    return cured, window.closes_s.value, entry.time_s if entry else round(window.middle_s.value, 1), words


def as_stored(known: ProofConstants) -> dict:
    return asdict(known)


def from_stored(stored: dict) -> ProofConstants:
    known = stored | {"full_s": Interval(**stored["full_s"]), "rests_on": tuple(stored["rests_on"])}
    return ProofConstants(**known)
