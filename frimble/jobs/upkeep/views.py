"""The room's upkeep and equipment, and the handover at a shift's end."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core.conclusions import RuleViolation
from frimble.jobs.models import Equipment, Handover, Loan, UpkeepItem
from frimble.jobs.upkeep import queries, services
from frimble.jobs.upkeep.forms import BackForm, DoneForm, EquipmentForm, HandoverForm, LoanForm, UpkeepForm
from frimble.people import settings as house_settings
from frimble.people.permissions import press_reporters


@press_reporters
def upkeep(request):
    """What is due, who sees to it, and which machine runs on which circuit."""
    act = request.POST.get("act", "") if request.method == "POST" else ""
    kinds = {"item": UpkeepForm, "done": DoneForm, "equipment": EquipmentForm, "loan": LoanForm, "back": BackForm}
    # Several stand on the page: each label leads to its own field.
    forms = {k: form(request.POST if act == k else None, auto_id=f"id_{k}_%s") for k, form in kinds.items()}
    acts = {
        "item": lambda cleaned: services.name_item(**cleaned),
        "done": lambda cleaned: _done(request.user, **cleaned),
        "equipment": lambda cleaned: services.note_equipment(**cleaned),
        "loan": lambda cleaned: services.lend(request.user, **cleaned),
        "back": lambda cleaned: services.take_back(get_object_or_404(Loan, pk=cleaned["loan"]), request.user),
    }
    if act in acts and forms[act].attempt(acts[act]):
        messages.success(request, "Kept.")
        return redirect("jobs:upkeep")
    rows = queries.upkeep()
    context = {
        "rows": rows,
        "first": rows[0] if rows else None,
        "equipment": Equipment.objects.all(),
        "item_form": forms["item"],
        "equipment_form": forms["equipment"],
        "loan_form": forms["loan"],
        "lent": queries.lent(),
        "lamps": queries.lamps(house_settings.current()),
    }
    wrong = any(form.errors for form in forms.values())
    return render(request, "jobs/upkeep/upkeep.html", context, status=422 if wrong else 200)


def _done(person, *, item: int, note: str):
    return services.record_done(get_object_or_404(UpkeepItem, pk=item), person, note=note)


@press_reporters
def handover(request):
    """What the last shift tells the next, and a handover of one's own."""
    last = queries.last_handover()
    if request.POST.get("act") == "sign":
        try:
            services.sign(get_object_or_404(Handover, pk=request.POST.get("handover", "0")), request.user)
        except RuleViolation as violation:
            messages.error(request, violation.reason)
        return redirect("jobs:handover")
    form = HandoverForm(request.POST or None)
    if request.method == "POST" and form.attempt(lambda cleaned: services.hand_over(request.user, **cleaned)):
        messages.success(request, "Handed over.")
        return redirect("jobs:handover")
    signed = [s.by_id for s in last.signatures.all()] if last else []
    context = {
        "last": last,
        "may_sign": last is not None and last.by_id != request.user.pk and request.user.pk not in signed,
        "room": queries.room_now(),
        "form": form,
    }
    return render(request, "jobs/upkeep/handover.html", context, status=422 if form.errors else 200)
