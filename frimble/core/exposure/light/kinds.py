"""Kinds of lamp: what an ordinary exposure under one usually takes, and how fast it fades."""

from dataclasses import dataclass


@dataclass(frozen=True)
class LampKind:
    """A kind of lamp.

    Attributes:
        usual_s: seconds that an ordinary coat on ordinary mesh usually takes at the distance such lamps stand at.
        fades: how fast it loses light, of the house's usual pace.
    """

    words: str
    usual_s: float
    fades: float


# From memory: LEDs take seconds to a minute, metal halide a minute or so, tubes some minutes, halogen and bulbs many
# minutes; LEDs keep their light far longer than arcs and tubes.
KINDS = {
    "led": LampKind("LED", 25, 0.2),
    "metal_halide": LampKind("metal halide", 60, 1.0),
    "tubes": LampKind("fluorescent UV tubes", 180, 1.0),
    "halogen": LampKind("halogen work light", 600, 0.7),
    "bulb": LampKind("household bulb", 1200, 0.7),
    "uv_bulb": LampKind("UV bulb", 480, 1.3),
    "sun": LampKind("sun", 60, 0.0),
}
_NO_KIND = LampKind("lamp", 40, 1.0)


def kind_of(name: str) -> LampKind:
    """What is known of a kind of lamp; of an unknown one what holds for most."""
    return KINDS.get(name, _NO_KIND)
