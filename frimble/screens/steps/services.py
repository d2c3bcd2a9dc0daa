"""The simple steps of a screen's round: degrease, dry, strip, and those of thermal film and hand stencils."""

from frimble.core.conclusions import InvalidInput, require_between
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import ledger

PRE_COAT_LOOKS = {
    "clean": "clean", "haze": "haze left", "emulsion": "emulsion left", "damage": "damaged mesh",
}  # fmt: skip


def degrease(code, person, *, dwell_s: float, look="clean", rinsed=True, **kwargs):
    """Degreased, rinsed and looked at against the light; the mesh now dries before a fan.

    Raises:
        InvalidInput: a dwell that cannot be, or nobody says that it was rinsed.
    """
    if not rinsed:
        raise InvalidInput(
            "Rinse until no foam and then longer, and say so: left degreaser makes the coat lift.", "rinsed"
        )
    settings = house_settings.current()
    require_between(dwell_s, 1, settings["degrease.longest_s"], "The dwell, in s,", "dwell_s")
    minutes = settings["degrease.dry_min"]
    facts = ledger.wetted({"dwell_s": dwell_s, "look": look}, minutes, moments.now())
    seen = "" if look == "clean" else f"; {PRE_COAT_LOOKS[look]}"
    return ledger.record(
        code, "degrease", person, facts=facts, summary=f"Degreased, {dwell_s:g} s dwell{seen}", **kwargs
    )


def record_mesh_dry(code, person, **kwargs):
    """A hand felt the bare mesh dry before the clock said so."""
    return ledger.record(code, "dry_mesh", person, summary="Mesh dry to the hand", **kwargs)


def strip(code, person, **kwargs):
    """Ink taken out; the stencil stays."""
    return ledger.record(code, "strip", person, summary="Ink is out; stencil kept", **kwargs)


def burn_image(code, person, *, ruling_lpi=None, head_dpi="", **kwargs):
    """Image melted into a thermal-film mesh.

    Args:
        ruling_lpi: of its halftone, lines per inch; head_dpi: dots per inch of the head, such as 600 × 1200.

    Raises:
        InvalidInput: a ruling no halftone has.
    """
    if ruling_lpi is not None:
        require_between(ruling_lpi, 1, house_settings.current()["halftone.highest_lpi"], "The ruling", "ruling_lpi")
    told = [f"{ruling_lpi:g} lines/in" if ruling_lpi else "", f"head {head_dpi} dpi" if head_dpi else ""]
    facts = ({"ruling_lpi": ruling_lpi} if ruling_lpi else {}) | ({"head_dpi": head_dpi} if head_dpi else {})
    words = ", ".join(["Image burned into the thermal film", *(t for t in told if t)])
    return ledger.record(code, "image", person, facts=facts, summary=words, **kwargs)


def block_out(code, person, **kwargs):
    """Stencil drawn or cut by hand."""
    return ledger.record(code, "block_out", person, summary="Stencil drawn or cut by hand", **kwargs)


def cut_out(code, person, **kwargs):
    """Used thermal mesh cut out of its frame."""
    return ledger.record(code, "cut_out", person, summary="Mesh cut out, frame free for new mesh", **kwargs)
