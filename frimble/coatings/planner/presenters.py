"""What the planner's page says apart from numbers: which school the house follows."""

from frimble.core.conclusions import Settings

_SIDES = {"P": "from the print side", "S": "from the squeegee side", "any": "from either side"}


def house_school(settings: Settings) -> str:
    """The house's school of coating in one sentence."""
    first, last = _SIDES[settings["coat.first_side"]], _SIDES[settings["coat.last_wet_side"]]
    return f"first stroke {first}, last wet stroke {last}, coater filled {settings['coat.fill']}."
