"""Batches: entered, and what is done to each."""

from dataclasses import dataclass
from datetime import datetime, time

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.coatings.batches import services as batch_services
from frimble.coatings.batches.forms import BatchForm, LitresForm, MixForm, MoveForm, TopUpForm
from frimble.coatings.models import Batch, CoatRecipe
from frimble.core.emulsion import mixing
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders

_COLD_C = 6


def _batch_row(batch, settings, now) -> dict:
    return {
        "batch": batch,
        "age": batch.age(now, settings),
        "left": batch_queries.litres_left(batch),
        "kept_c": batch.kept(now)[-1].kept_c,
        "warm_up": batch_queries.warm_up_left_min(batch, settings, now),
        "cold": batch_queries.stands_cold(batch, settings, now),
    }


@recorders
def batches(request):
    """Batches in use with how much of each life is used and what is left; a new one is entered here."""
    settings, now = house_settings.current(), timezone.now()
    form = BatchForm(request.POST or None, initial={"mixed_on": str(timezone.localdate())})
    if request.method == "POST":

        def mix(data):
            mixed_at = timezone.make_aware(datetime.combine(data.pop("mixed_on"), time(0)))
            if timezone.localdate(mixed_at) == timezone.localdate():
                mixed_at = timezone.now()
            return batch_services.mix_batch(
                data.pop("code"), data.pop("emulsion"), mixed_at, data.pop("kept_c"), request.user, **data
            )

        done = form.attempt(mix)
        if done:
            messages.success(request, f"Batch {done.code} entered{_to_add(done, form)}.")
            return redirect("coatings:batches")
    mix_form = MixForm(request.GET if "base" in request.GET else None, auto_id="id_mix_%s")
    mixed = mix_form.attempt(lambda data: _mixed(data, settings, now)) if mix_form.is_bound else None
    in_use = list(Batch.objects.in_use())
    context = {
        "form": form,
        "rows": [_batch_row(b, settings, now) for b in in_use],
        "outlooks": batch_queries.outlooks(settings, batches=in_use),
        "recipes": CoatRecipe.objects.all(),
        "mix_form": mix_form,
        "mixed": mixed,
    }
    return render(
        request, "coatings/batches/batches.html", context, status=422 if form.errors or mix_form.errors else 200
    )


def _owed(old, form) -> str:
    """What a topped-up blend is still owed, in words; nothing where it comes ready-sensitised."""
    ratio, base = old.ratio or old.emulsion.ratio, form.cleaned_data["base_l"]
    if not ratio:
        return ""
    return f" {base / ratio * 1000:.0f} ml of sensitiser are owed for the new {base:g} l; none for what was left."


def _to_add(batch, form) -> str:
    base = form.cleaned_data.get("base_l")
    return f": {base / batch.ratio * 1000:.0f} ml of sensitiser" if base and batch.ratio else ""


@dataclass(frozen=True)
class Mixture:
    """What to put together, in the unit that was typed, and the rules' words on it."""

    sensitiser: str
    total: str
    words: tuple[str, ...]


def _mixed(data, settings, now) -> Mixture:
    """What a mix comes to.

    Raises:
        InvalidInput: a remainder of unknown age, or sensitiser for an emulsion that comes ready.
    """
    if data["emulsion"]:
        mixing.refuse_sensitiser(data["emulsion"].kind)
    base, remainder, of = data["base"], data["remainder"], data["remainder_of"]
    age_days = round((now - of.born_at).total_seconds() / 86400) if of else data["remainder_age_days"]
    held = remainder.in_base if remainder else 0
    made = mixing.top_up(held, base.in_base, data["ratio"], age_days, settings)
    return Mixture(base.like(made.sensitiser), base.like(made.total), made.words[1:])


@recorders
def batch(request, code):
    """One batch: its life so far, and what is done to it: moved, measured, thrown away, topped up, finished."""
    batch = get_object_or_404(Batch.objects.select_related("emulsion", "topped_from", "mixed_by"), code=code.upper())
    settings, now, person = house_settings.current(), timezone.now(), request.user
    act = request.POST.get("act", "")
    acts = {
        "move": (MoveForm, lambda d: batch_services.move(batch, d["kept_c"], person)),
        "litres": (LitresForm, lambda d: batch_services.change_litres(batch, d["kind"], d["litres"], person)),
        "top_up": (TopUpForm, lambda d: batch_services.top_up(batch, d["code"], d["base_l"], person)),
    }
    forms = {name: form(request.POST if name == act else None) for name, (form, _) in acts.items()}
    if act in acts and forms[act].attempt(acts[act][1]):
        messages.success(request, f"{batch.code}: written down.{_owed(batch, forms[act]) if act == 'top_up' else ''}")
        return redirect("coatings:batches" if act == "top_up" else request.path)
    if act == "finish":
        batch_services.finish(batch)
        messages.success(request, f"{batch.code} is finished.")
        return redirect("coatings:batches")
    failed = act in acts
    context = _batch_row(batch, settings, now) | {
        "forms": forms,
        "records": batch.records.select_related("by", "run").order_by("-at", "-pk")[:40],
        "cold_c": _COLD_C,
        "room_c": settings["emulsion.room_c"],
        "warm_min": settings["emulsion.warm_up_min"],
    }
    return render(request, "coatings/batches/batch.html", context, status=422 if failed else 200)
