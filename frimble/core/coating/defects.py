"""What goes wrong with a coat: what it looks like, what usually makes it, and what to practise."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from frimble.core.conclusions import Settings
from frimble.core.numbers import counted


@dataclass(frozen=True)
class Defect:
    """One kind of fault: its word, how it looks, its usual cause, the remedy, and whether the hand makes it."""

    word: str
    look: str
    cause: str
    remedy: str
    of_hand: bool


# Common practice, no source.
DEFECTS = {
    "line": Defect("line", "a light line along the stroke", "dried emulsion on the coater's edge",
                   "Soak and buff the edge; wash the coater at once after each run.", False),
    "bead": Defect("bead", "a thick bead along the stroke that will not expose through", "a chip in the coater's edge",
                   "Sand out a small chip; replace the coater for a large one.", False),
    "side": Defect("ridge at the side", "thick ridges at both sides, which dry last and print onto the exposure glass",
                   "an overfilled coater or square ends", "Fill less, keep short of the frame.", True),
    "bubble": Defect("bubbles", "pinholes or small craters", "emulsion stirred fast or used before it stood",
                     "Stir slowly, let it stand until the bubbles are out, coat slower.", True),
    "drip": Defect("drip", "a run below the start or top of the stroke", "too much left at the top, or no shear at the end",
                   "Roll back and shear at the top, or lift an inch further; wipe the edge.", True),
    "band": Defect("stop mark", "a band across the stroke", "the stroke stopped or changed speed",
                   "One even pull, frame against a stop, two hands.", True),
    "thin": Defect("thin place", "mesh shows through in one place", "pressure let up, or the coater ran low on one side",
                   "Keep the same fill and firm pressure to both ends.", True),
    "fisheye": Defect("fish-eye", "round bare spots", "grease or degreaser left on the mesh",
                      "Degrease again and rinse until no foam and then longer.", False),
    "dust": Defect("dust", "specks in the coat", "lint or dried skin from the batch",
                   "Strain the emulsion, wipe the frame, keep the cabinet dust-free.", False),
}  # fmt: skip


@dataclass(frozen=True)
class Tally:
    """Coats and defects of one person: coats laid, coats with a defect, count by kind, and what to practise."""

    who: str
    coats: int
    faulty: int
    kinds: Mapping[str, int]
    practise: str

    @property
    def share(self) -> float:
        return self.faulty / self.coats if self.coats else 0.0


def tally(who: str, coats: int, faults: Iterable[tuple[int, str]], settings: Settings) -> Tally:
    """What one person's coats showed.

    Args:
        coats: laid in all. faults: (coat, kind of defect) of those that showed one.
    """
    faults = list(faults)
    kinds: dict[str, int] = {}
    for _, kind in faults:
        kinds[kind] = kinds.get(kind, 0) + 1
    faulty = len({coat for coat, _ in faults})
    return Tally(who, coats, faulty, kinds, _practise(coats, kinds, settings))


def _practise(coats: int, kinds: Mapping[str, int], settings: Settings) -> str:
    """What the hand should practise, only when it has coated enough to tell and one of its own faults comes back."""
    if coats < settings["coat.tell_after"]:
        return f"{counted(coats, 'coat is', 'coats are')} too few to tell; {settings['coat.tell_after']:g} are wanted."
    own = {k: n for k, n in kinds.items() if DEFECTS[k].of_hand and n >= 2}
    if not own:
        return "Nothing of the hand comes back."
    worst = max(own, key=lambda k: own[k])
    return f"{DEFECTS[worst].word.capitalize()} {own[worst]} times: {DEFECTS[worst].remedy}"
