"""The word of each conclusion, a class a subject: rules and pages go by the member, people read the word."""

from enum import StrEnum
from typing import Self


class Verdict(StrEnum):
    """A conclusion's word.

    Attributes:
        due: whether somebody has to do something about it.
    """

    due: bool

    def __new__(cls, word: str, due: bool = False) -> Self:
        member = str.__new__(cls, word)
        member._value_, member.due = word, due
        return member


class NoVerdict(Verdict):
    """Of a number that is only told, not judged."""

    NONE = ""
    NOT_KNOWN = "not known"


class BatchAge(Verdict):
    FRESH = "fresh"
    AGEING = "ageing", True
    PAST = "past its life", True


class Stock(Verdict):
    ENOUGH = "enough"
    SOON_OUT = "soon out", True
    SHORT = "short", True
    ENOUGH_FOR_ALL = "enough for all"


class Dryness(Verdict):
    DRY = "dry"
    DAMP = "damp", True
    UNSURE = "not sure", True


class AirVerdict(Verdict):
    """Of the air a coat dries in."""

    DRYING = "drying"
    TOO_DAMP = "too damp", True
    TOO_HOT = "too hot", True
    NO_DRYING = "will not dry", True


class Thickness(Verdict):
    """Of the emulsion over mesh."""

    THIN = "thin"
    ORDINARY = "ordinary"
    HEAVY = "heavy"
    THICK = "thick"


class TimeRests(Verdict):
    """What an exposure time, or a coat's, rests on."""

    CALIBRATED = "calibrated"
    TEST_SOON = "test again soon", True
    CORRECTED = "corrected: test again soon", True
    ESTIMATE = "estimate until tested", True
    TOO_FAR = "too far from what was tested", True
    NOT_CALIBRATED = "no calibrated time", True
    NOT_KNOWN = "not known", True


class TestOutcome(Verdict):
    """What a step test came to."""

    WINDOW = "window"
    NOT_BRACKETED = "not bracketed", True
    PROVISIONAL = "provisional", True
    NO_GOOD_STEP = "no good step", True
    ALL_UNDER = "all under", True
    ALL_OVER = "all over", True
    CONTRADICTORY = "contradictory", True


class GreyScale(Verdict):
    RIGHT = "right"
    CORRECTED = "corrected"
    NOT_BRACKETED = "not bracketed", True


class Comparison(Verdict):
    """Of two step tests."""

    DIFFERENCE = "a difference"
    NO_DIFFERENCE = "no difference seen"
    REPEAT = "a repeat"
    TANGLED = "cannot be told apart", True
    WIDER = "wider"
    NARROWER = "narrower"
    AS_WIDE = "as wide, for all that can be told"


class DriftVerdict(Verdict):
    """Of the control strips."""

    STEADY = "steady"
    RECALIBRATE = "recalibrate", True


class LampVerdict(Verdict):
    """Of a lamp's fading, its field, and when it wants a test."""

    MEASURED = "measured"
    ESTIMATE = "estimate"
    EVEN = "even"
    UNEVEN = "uneven", True
    HOLDS = "holds"
    DUE = "due", True


class Headroom(Verdict):
    """Of a film's black, in times the working time."""

    HOLDS = "holds"
    TOO_LITTLE = "holds too little", True
    LEAKS = "leaks before the stencil is cured", True
    AT_LEAST = "holds at least", True


class FilmDensity(Verdict):
    GOOD = "good"
    SLOW = "slow"
    TOO_WEAK = "too weak", True
    AT_LEAST = "not known, at least", True
    NOT_KNOWN = "not known", True


class FilmVerdict(Verdict):
    """Of a film as its scan shows it."""

    PASSED = "passed"
    FAULTS = "faults", True
    NOT_KNOWN = "not known", True


class Inspection(Verdict):
    """Of a washed stencil, against the light."""

    PASSES = "pass"
    FAILS = "fail", True


class RinsePace(Verdict):
    """Of a rinse against what such stencils take."""

    USUAL = "as usual"
    SHORT = "shorter than usual", True
    LONG = "longer than usual", True
    NO_USE = "no use to go on", True


class Bracket(Verdict):
    """Whether a measurement was bounded on both sides."""

    BRACKETED = "bracketed"
    AT_LEAST = "at least"
    NOT_BRACKETED = "not bracketed", True


class FitVerdict(Verdict):
    """Of two films of one job, laid on each other."""

    FITS = "fits"
    DOES_NOT_FIT = "does not fit", True
    STACKS = "may be stacked"
    DOES_NOT_STACK = "do not stack", True


class Dots(Verdict):
    SEEN = "dots will be seen"
    UNSEEN = "dots will not be seen"


class MoireVerdict(Verdict):
    BEATS = "moiré", True
    NO_BEAT = "no visible beat"


class Keeping(Verdict):
    """Whether to keep a stencil."""

    KEEP = "keep"
    RECLAIM = "reclaim"


class MeshAdvice(Verdict):
    """What to do with a mesh."""

    KEEP = "keep"
    COARSE_WORK = "keep for coarse work"
    RETENSION = "re-tension", True
    REMESH = "re-mesh", True
    NOT_KNOWN = "not known", True


class HardenVerdict(Verdict):
    """Whether a stencil is hardened for its run."""

    DONE = "hardened"
    OFFERED = "harden it", True
    NOT_NEEDED = "not needed"
    NOT_KNOWN = "not known"


class CureVerdict(Verdict):
    """Of an ink by its temperature."""

    CURED = "cured"
    UNDER = "under-cured", True
    HOT = "too hot", True
    NOT_KNOWN = "not known"


class GateVerdict(Verdict):
    """Of one check before press."""

    OK = "in order"
    NOT_ASKED = "not known"
    SKIPPED = "skipped", True
    OVER = "over its limit", True


class OffContact(Verdict):
    WILL_DO = "will do"
    TOO_SLACK = "too slack", True


class TensionBand(Verdict):
    """The band a mean tension falls in, or what outweighs any mean."""

    POOR = "poor", True
    WILL_DO = "will do"
    GOOD = "good"
    BEST = "best"
    HIGH = "high", True
    SLACK_PLACE = "slack in one place", True
    UNEVEN = "uneven", True


class LossVerdict(Verdict):
    HOLDS = "holds"
    WILL_CROSS = "will cross"
    BELOW = "below the limit", True


class JobMatch(Verdict):
    """Of the tensions of one job's screens."""

    MATCH = "match"
    DIFFER = "do not match", True
