"""The latent image: what a coat shows after its light and before its wash, and what it means when it shows none."""

from collections.abc import Mapping
from enum import StrEnum


class Latent(StrEnum):
    """What was seen of it."""

    CLEAR = "clear"
    FAINT = "faint"
    NONE = "none"


# Common practice, no source.
LATENT_WORDS: Mapping[Latent, str] = {
    Latent.CLEAR: "clear: the image stands out in its own colour",
    Latent.FAINT: "faint",
    Latent.NONE: "nothing to see",
}
LATENT_ADVICE: Mapping[Latent, str] = {
    Latent.CLEAR: "",
    Latent.FAINT: "Little light, or light all over: wash gently, and look at the control strip.",
    Latent.NONE: "No light reached it, or it had light all over before: check lamp and film. This one may "
    "wash off whole.",
}
