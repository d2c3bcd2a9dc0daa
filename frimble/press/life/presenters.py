"""What the page of a stencil's life and that of a design show."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.urls import reverse

from frimble.core.numbers import counted
from frimble.core.stencil.outcome import Ending, RecipeRecord, by_recipe
from frimble.press.life.queries import StencilLife
from frimble.screens.models import ScreenEvent
from frimble.stencils.inspecting.photo.models import StencilPhoto
from frimble.stencils.inspecting.photo.presenters import PhotoPart
from frimble.stencils.inspecting.photo.presenters import part as photo_part


@dataclass(frozen=True)
class Picture:
    """A photograph of the stencil or its print, with what it shows."""

    url: str
    words: str


@dataclass(frozen=True)
class Fact:
    """A station's word and what is on record there."""

    label: str
    words: str


@dataclass(frozen=True)
class LifePart:
    """One stencil: what became of it and why, what it was made of, its pictures, faults and records."""

    headline: str
    reason: str
    due: bool
    undecided: bool
    facts: Sequence[Fact]
    pictures: Sequence[Picture]
    photo: StencilPhoto | None
    sheet: PhotoPart | None
    records: Sequence[ScreenEvent]


_WENT_WRONG = (Ending.FAILED, Ending.BROKE, Ending.PINHOLES)


def life_part(life: StencilLife) -> LifePart:
    """The page of one stencil."""
    photo = next((p for p in reversed(life.photos) if p.straight), None)
    end = life.ending
    sheet = photo_part(photo) if photo else None
    undecided = sum(f.open for f in sheet.findings) if sheet and not life.cycle.closed_at else 0
    return LifePart(
        _headline(life, end),
        f"{counted(undecided, 'fault')} on its photo to decide." if undecided else _reason(life, end),
        end in _WENT_WRONG,
        bool(undecided),
        _facts(life),
        _pictures(life, photo),
        photo,
        sheet,
        life.events,
    )


def _headline(life: StencilLife, end: Ending) -> str:
    prints = f", {counted(life.impressions, 'impression')}" if life.impressions else ""
    words = "Nothing on the mesh yet" if not life.events else end.value.capitalize()
    return f"{words}{prints}"


def _reason(life: StencilLife, end: Ending) -> str:
    if life.cause:
        likely = f"{life.cause.probability * 100:.0f} % likely"
        return f"{life.cause.label.capitalize()}, confirmed by {life.cause.by} at {likely}."
    if end in _WENT_WRONG:
        return "Nobody has confirmed a cause yet."
    closing = next((e for e in reversed(life.events) if e.kind == "reclaim"), None)
    return f"{closing.summary}." if closing and life.cycle.closed_at else ""


def _facts(life: StencilLife) -> list[Fact]:
    facts = [Fact("Mesh", life.cycle.installation.mesh.label)]
    if life.exposure and life.exposure.film:
        facts.append(Fact("Film", str(life.exposure.film)))
    if life.coat:
        facts.append(Fact("Coat", f"{life.coat.formula}, {life.coat.batch}"))
    if life.exposure:
        facts.append(Fact("Light", str(life.exposure)))
    if life.washout:
        seen = f"; latent image {life.washout.get_latent_display()}" if life.washout.latent else ""
        facts.append(Fact("Wash", f"{life.washout}{seen}"))
    hardened = [e.summary for e in life.events if e.kind == "harden"]
    if hardened:
        facts.append(Fact("Hardened", hardened[-1]))
    if life.mended:
        words = f"{counted(life.mended, 'place')} with filler or tape: look at each again before a reprint"
        facts.append(Fact("Mended", words))
    if life.shown:
        facts.append(Fact("On the print", f"{counted(life.shown, 'place')} that was mended or left shows"))
    said = next((f for f in life.feedback if f.words), None)
    if said:
        facts.append(Fact("Prints", f"{said.words}, {said.by}"))
    return facts


def _pictures(life: StencilLife, photo: StencilPhoto | None) -> list[Picture]:
    """Latent image, stencil, first and last print, those there are."""
    pictures = []
    if life.washout and life.washout.latent_photo:
        pictures.append(Picture(reverse("stencils:latent-photo", args=[life.washout.pk]), "Latent image"))
    if photo:
        pictures.append(Picture(reverse("stencils:photo-picture", args=[photo.pk]), "Stencil, laid over its film"))
    prints = [f for f in reversed(life.feedback) if f.photo]
    named = [("First print", prints[0])] if prints else []
    if len(prints) > 1:
        named.append(("Last print", prints[-1]))
    for words, said in named:
        made = f" after {counted(said.impressions, 'impression')}" if said.impressions else ""
        pictures.append(Picture(reverse("press:print-photo", args=[said.pk]), f"{words}{made}"))
    return pictures


@dataclass(frozen=True)
class DesignRow:
    """A stencil of the design, where its page is, and what else is known of it."""

    life: StencilLife
    url: str
    more: str


@dataclass(frozen=True)
class DesignPart:
    """What became of a film's stencils, and the recipe that did best."""

    headline: str
    reason: str
    rows: Sequence[DesignRow]
    recipes: Sequence[RecipeRecord]


# Fewer stencils than this say little of a recipe.
_FEW = 3


def design_part(lives: Sequence[StencilLife]) -> DesignPart:
    """The page of a design."""
    rows = [DesignRow(life, _page_of(life), _more(life)) for life in lives]
    recipes = by_recipe((life.recipe, life.ending, life.impressions) for life in lives)
    if not recipes:
        return DesignPart(
            "Nothing printed from it yet", "What becomes of its stencils is gathered here.", rows, recipes
        )
    best = recipes[0]
    told = f"{best.held} of {best.number} held, {counted(best.impressions, 'impression')}"
    few = " Too few to rely on." if best.number < _FEW else ""
    return DesignPart(f"Best so far: {best.recipe}", f"{told}.{few}", rows, recipes)


def _more(life: StencilLife) -> str:
    """Its recipe, what was mended and the cause of its end, in a row."""
    parts = [life.recipe]
    if life.mended:
        parts.append(f"{life.mended} mended")
    if life.cause:
        parts.append(life.cause.label)
    return "; ".join(parts)


def _page_of(life: StencilLife) -> str:
    code = life.cycle.installation.frame.code
    return f"{reverse('press:life', args=[code])}?stencil={life.cycle.pk}"
