"""What the cabinet's page says of each coat that dries."""

from frimble.coatings.drying.queries import Drying
from frimble.core.units import show_minutes


def dries_within(found: Drying) -> str:
    """When such coats are dry, in one sentence, as far as it still lies ahead."""
    if found.high_min <= 0:
        return "Nineteen of twenty such coats are dry by now."
    if found.low_min <= 0:
        return f"Nineteen of twenty are dry within {show_minutes(found.high_min)} more."
    return f"Nine of ten dry within {show_minutes(found.low_min)} to {show_minutes(found.high_min)} more."
