"""Stencil proof: the stencil that a film will give, before anything is coated."""

from dataclasses import asdict

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.exposures.models import ChartEntry
from frimble.films.models import ScanCheck
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.stencils.models import StencilProof
from frimble.stencils.proofs import meshes, parts, presenters, services, trust
from frimble.stencils.proofs.forms import PartForm, ProofForm
from frimble.stencils.proofs.known import Combination
from frimble.ui.roomlight import asks_dark, in_room_light, picture_answer

_LATELY = 12
COMBINATION = ("mesh", "formula", "emulsion", "lamp", "film_process")
_SIDE_MM, _LONGEST_OVER_CURE = 12.0, 4.0


@recorders
def start(request):
    """Choose what is to be proven; the visible part answers at once, the whole film is worked out behind the page."""
    settings = house_settings.current()
    given = request.POST or request.GET
    form = ProofForm(given or None, initial={} if given else usual())
    if request.method == "POST":
        proof = form.attempt(lambda cleaned: services.ask(request.user, settings, **cleaned))
        if proof:
            return redirect("stencils:proof", proof.pk)
    sliders = _sliders(form, settings) if request.method == "GET" and form.is_bound else None
    context = {
        "form": form,
        "sliders": sliders,
        "lately": StencilProof.objects.select_related("scan__film", "mesh", "by")[:_LATELY],
        "has_film": films_there(form),
        "trust": trust.trusted(),
    }
    return render(request, "stencils/proofs/start.html", context, status=422 if form.errors else 200)


def films_there(form) -> bool:
    """Whether any film can be proven."""
    return bool(form.fields["scan"].records)


def usual() -> dict:
    """The film that was checked last, on what was calibrated last."""
    entry = ChartEntry.objects.read().in_force().order_by("-accepted_at").first()
    usual = {"scan": ScanCheck.objects.filter(state=ScanCheck.State.DONE).first(), "formula": "P1 S1"}
    return usual | ({name: getattr(entry, name) for name in COMBINATION} if entry else {})


def _sliders(form, settings) -> dict | None:
    """Where the sliders stand at first, and how far they go; None, with the reason on the form, where that is not known."""

    def told(cleaned):
        of = Combination(**{name: cleaned[name] for name in COMBINATION})
        known, time_s = services.time_of(of, cleaned["time_s"], settings)
        width, height = (cleaned["scan"].result[key] for key in ("width_mm", "height_mm"))
        x, y = parts.busiest_place(cleaned["scan"], _SIDE_MM)
        woven = meshes.offered(cleaned["mesh"], cleaned["formula"], cleaned["emulsion"], settings)
        return {
            "time_s": time_s,
            "least_s": round(known.full_s.value / _LONGEST_OVER_CURE, 2),
            "most_s": round(known.full_s.value * _LONGEST_OVER_CURE, 1),
            "over_um": round(known.over_mesh_um),
            "rests_on": known.rests_on,
            "x": round(x, 1),
            "y": round(y, 1),
            "width": width,
            "height": height,
            "side": _SIDE_MM,
            "scan": cleaned["scan"],
            "meshes": woven,
            "mesh_at": next(k for k, one in enumerate(woven) if one.pk == cleaned["mesh"].pk),
            "chosen": {name: getattr(cleaned[name], "pk", cleaned[name]) for name in ("scan", *COMBINATION)},
        }

    return form.attempt(told)


def part(request):
    """The visible part in words: what opens and stands at what the sliders say."""
    answer = _part(request)
    if isinstance(answer, str):
        return JsonResponse({"ok": False, "reason": answer})
    found, known, time_s, opening_um = answer
    words = presenters.part_words(known, time_s, opening_um, found.opened_share)
    return JsonResponse({"ok": True} | asdict(words))


def part_picture(request):
    """The visible part as a picture."""
    answer = _part(request)
    if isinstance(answer, str):
        return HttpResponse(answer, status=422, content_type="text/plain")
    return picture_answer(parts.picture(answer[0], asks_dark(request)))


def _part(request):
    """The part with what it was worked out from; a sentence where it cannot be."""
    form, settings = PartForm(request.GET), house_settings.current()
    if not form.is_valid():
        return "; ".join(f"{name}: {errors[0]}" for name, errors in form.errors.items())
    asked = form.cleaned_data
    try:
        known, time_s = services.time_of(
            Combination(**{name: asked[name] for name in COMBINATION}), asked["time_s"], settings
        )
        if asked["over"] is not None:
            known = known.with_coat(asked["over"], settings)
        opening = asked["mesh"].geometry(settings).opening_um
        found = parts.part_of(asked["scan"], asked["x"], asked["y"], asked["side"], known.light(time_s), opening)
    except InvalidInput as error:
        return str(error)
    except RuleViolation as violation:
        return violation.reason
    return found, known, time_s, opening


@recorders
def proof(request, pk):
    """A whole film's proof: the picture with its findings, a loupe, what would hold more, what it rests on."""
    shown = get_object_or_404(StencilProof.objects.select_related("scan__film", "mesh", "lamp", "by"), pk=pk)
    if request.method == "POST":
        try:
            services.try_again(shown)
        except RuleViolation as violation:
            messages.error(request, violation.reason)
        return redirect("stencils:proof", pk)
    context = {
        "proof": shown,
        "page": presenters.proof_page(shown) if shown.done else None,
        "against": trust.against_photos(shown) if shown.done else [],
    }
    return render(request, "stencils/proofs/proof.html", context)


def proof_picture(request, pk):
    """The whole stencil in the light of the room."""
    shown = get_object_or_404(StencilProof, pk=pk, state=StencilProof.State.DONE)
    return picture_answer(in_room_light(shown.picture, request))


def progress(request, pk):
    """How far it is worked out."""
    return JsonResponse(get_object_or_404(StencilProof, pk=pk).progress())
