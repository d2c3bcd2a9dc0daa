"""What a choice of screens for many colours costs: each screen, colours without one, and unlike tensions within a job."""

from collections import defaultdict
from collections.abc import Mapping, Sequence

from frimble.core.planning.choosing.suitability import Suitability, Want

# The search has whole tenths of a minute.
UNIT = 10
# Minutes for each N/cm that a job's screens are apart, which is as many units for each tenth of it.
MATCH = 10
# A colour without a screen is worse than any choice.
NONE = 100_000 * UNIT

# By the key of each colour the screen it gets; who gets none is not there.
Chosen = Mapping[str, Suitability]


def units(suits: Suitability) -> int:
    return round(suits.cost_min * UNIT)


def tension(suits: Suitability) -> int | None:
    """Tenths of N/cm; None where it was never measured."""
    n_per_cm = suits.candidate.tension_n_per_cm
    return None if n_per_cm is None else round(n_per_cm * UNIT)


def unlike(tensions: Sequence[int | None]) -> int:
    """What screens of one job cost by how far they are apart."""
    known = [one for one in tensions if one is not None]
    return MATCH * (max(known) - min(known)) if known else 0


def jobs_of(wants: Sequence[Want]) -> dict[str, list[str]]:
    """The keys of each job's colours."""
    jobs = defaultdict(list)
    for want in wants:
        jobs[want.job].append(want.key)
    return jobs


def cost(wants: Sequence[Want], chosen: Chosen) -> int:
    """Of the whole, in units."""
    screens = sum(units(chosen[want.key]) if want.key in chosen else NONE for want in wants)
    jobs = jobs_of(wants).values()
    return screens + sum(unlike([tension(chosen[key]) for key in keys if key in chosen]) for keys in jobs)
