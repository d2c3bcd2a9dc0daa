"""How long a stencil takes to rinse open here, and what it means when one takes longer or shorter."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import log

import numpy as np

from frimble.core.conclusions import Conclusion, Settings, require_positive
from frimble.core.numbers import counted
from frimble.core.statistics import learning
from frimble.core.units import show_seconds
from frimble.core.verdicts import NoVerdict, RinsePace

# Twice the strokes and twice the light make a rinse longer by some tenths. From memory, to be learned by the shop.
_STROKES, _DOSE = (0.3, 0.3), (0.4, 0.3)
# How far emulsions differ from each other, stencils of one kind from the next, and the house's figure from the truth; ln.
_EMULSIONS_SD, _NOISE_SD, _HOUSE_SD = 0.35, 0.3, 0.5
# Beyond the interval by this nothing more opens by rinsing.
_NO_USE = 1.5


@dataclass(frozen=True)
class RinseFacts:
    """What the rinse of a stencil rests on.

    Attributes:
        emulsion: its name. strokes: of the whole coat. dose: light given ÷ calibrated time; None where none is known.
    """

    emulsion: str
    strokes: int
    dose: float | None = None

    def row(self, emulsions: Sequence[str]) -> list[float]:
        of_each = [1.0 if name == self.emulsion else 0.0 for name in emulsions]
        return [1.0, log(max(self.strokes, 1) / 2), log(self.dose) if self.dose else 0.0, *of_each]


@dataclass(frozen=True)
class RinseModel:
    """What is believed of ln(rinse, s), and the emulsions that were met."""

    belief: learning.Belief
    emulsions: tuple[str, ...]


def learn(washed: Iterable[tuple[RinseFacts, float]], settings: Settings) -> RinseModel:
    """What the shop's own washes teach.

    Args:
        washed: facts of each stencil that came out well, and the seconds it was rinsed.
    """
    rows = [(facts, seconds) for facts, seconds in washed if seconds > 0]
    emulsions = tuple(sorted({facts.emulsion for facts, _ in rows}))
    begin = [(log(settings["wash.rinse_s"]), _HOUSE_SD), _STROKES, _DOSE, *[(0.0, _EMULSIONS_SD)] * len(emulsions)]
    means, sds = zip(*begin, strict=True)
    belief = learning.prior(means, sds, _NOISE_SD)
    if not rows:
        return RinseModel(belief, emulsions)
    x = np.array([facts.row(emulsions) for facts, _ in rows])
    return RinseModel(learning.learn(belief, x, np.log([seconds for _, seconds in rows])), emulsions)


def _whole(seconds: float) -> str:
    return show_seconds(round(seconds))


def usual(facts: RinseFacts, model: RinseModel) -> Conclusion:
    """The rinse that such a stencil takes here, s, with the interval that nine in ten lie in."""
    predicted = learning.predict(model.belief, facts.row(model.emulsions))
    seconds = predicted.exp()
    records = model.belief.records
    here = f"{counted(records, 'wash', 'washes')} here, {predicted.prior_share * 100:.0f} % common practice"
    rests_on = here if records else "common practice"
    return Conclusion(
        seconds.value,
        "s",
        NoVerdict.NONE,
        f"Such stencils rinse open in about {_whole(seconds.value)}; nine in ten in {_whole(seconds.low)} to "
        f"{_whole(seconds.high)}.",
        rests_on,
        low=seconds.low,
        high=seconds.high,
    )


@dataclass(frozen=True)
class Pace:
    """What a rinse that was stopped, or goes on, says.

    Attributes:
        why: likely reasons. now: what to do with this stencil.
    """

    verdict: RinsePace
    sentence: str
    why: str = ""
    now: str = ""


# Common practice, no source.
_LONG_WHY = "Over-exposed, a film that lets light through, a coat kept too long or one that saw light."
_SHORT_WHY = "Under-exposed, or still damp inside under the light."


def beyond_use(expected: Conclusion) -> float:
    """Seconds from which on more rinsing opens nothing and costs edges."""
    return expected.interval.high * _NO_USE


def pace(rinsed_s: float, expected: Conclusion, open_now: bool) -> Pace:
    """What a rinse of so many seconds says against what is usual.

    Args:
        open_now: whether every opening passes light; without it the rinse still goes on.

    Raises:
        InvalidInput: no seconds.
    """
    require_positive(rinsed_s, "The rinse, in s,", "rinse_s")
    low, high = expected.interval.low, expected.interval.high
    spans = f"{_whole(rinsed_s)}; nine in ten such stencils take {_whole(low)} to {_whole(high)}"
    if rinsed_s > beyond_use(expected) and not open_now:
        return Pace(
            RinsePace.NO_USE,
            f"Stop: {spans}.",
            _LONG_WHY,
            "Soak once more for a minute and rinse warm from the back; what stays shut then is for reclaim.",
        )
    if rinsed_s > high:
        now = (
            "Look for scum in the openings before it dries."
            if open_now
            else "Warmer water, and from the back of the image; do not go closer."
        )
        return Pace(RinsePace.LONG, f"Longer than usual: {spans}.", _LONG_WHY, now)
    if rinsed_s < low and open_now:
        now = "Feel the squeegee side: if it is slimy, rinse no more, dry it and give the light again through the back."
        return Pace(RinsePace.SHORT, f"Shorter than usual: {spans}.", _SHORT_WHY, now)
    return Pace(RinsePace.USUAL, f"As usual: {spans}.")
