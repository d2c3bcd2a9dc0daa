"""Whether a step asks for a signed skill."""

from frimble.core.training.skills import SKILLS
from frimble.people import settings as house_settings
from frimble.training.queries import signatures


def missing_skill(kind: str, person) -> str:
    """Why a step may not be recorded yet where the house asks for signed skills; empty where it may. Leads may always."""
    asked = [name for name, skill in SKILLS.items() if skill.step == kind]
    if not asked or person.is_lead or house_settings.current()["training.before_recording"] != "signed":
        return ""
    signed = signatures([person.pk])
    missing = [SKILLS[name].title for name in asked if (person.pk, name) not in signed]
    if not missing:
        return ""
    return f"The house asks for signed skills before this step: {', '.join(missing)}. A lead signs them under Training."
