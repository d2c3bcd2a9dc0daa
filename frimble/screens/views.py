"""The register's pages: passport, tension, simple steps, racks, meshes, stations."""

from django.contrib import messages
from django.http import Http404, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.core import cautions, lifecycle, mesh, storage
from frimble.core.conclusion import OutOfRange
from frimble.core.instruments import tension_gauge
from frimble.core.tension import TensionReading, summarise
from frimble.people import standards
from frimble.people.permissions import leads, recorders
from frimble.screens import actions, ledger
from frimble.screens.forms import (
    DegreaseForm,
    MeshForm,
    PlaceForm,
    ReclaimForm,
    RegisterForm,
    StepForm,
    TakeBackForm,
    TensionForm,
)
from frimble.screens.links import step_url, test_url
from frimble.screens.models import Frame, MeshKind, Rack, Screen, Slot
from frimble.screens.stepviews import StepPage, get_screen, show_step

STATION_WORDS = {
    "coat": ("Coat", "Degreased screens that are dry, and coats that want their next layer."),
    "dry": ("Dry", "Screens whose mesh or coat is wet."),
    "expose": ("Expose", "Coated, dry and waiting for light."),
    "wash": ("Wash", "Exposed screens, and stencils to inspect or to read."),
    "press": ("Press", "Stencils ready for press and screens that are out."),
    "reclaim": ("Reclaim", "Back from press, stripped, or failed."),
}


def passport(request, code):
    """One screen: what it is, what is on it, what may be done next, and its whole life."""
    screen = get_screen(code)
    in_force, now = standards.current(), timezone.now()
    steps = lifecycle.next_steps(screen.life, now, in_force)
    allowed = [s for s in steps if s.allowed]
    measuring = _last_measuring(screen)
    events = screen.meshing.events.select_related("by", "cycle", "replaced_by").order_by("-at", "-pk")[:400]
    context = {
        "screen": screen,
        "life": screen.life,
        "geometry": screen.mesh.geometry(in_force) if screen.state != lifecycle.State.NO_MESH else None,
        "main_step": _linked(steps[0], screen) if steps and not (steps[0].allowed is False and allowed) else None,
        "steps": [_linked(s, screen) for s in steps],
        "waiting": next((s for s in steps if s.overridable and not s.allowed), None),
        "test_url": _unread_test_url(screen),
        "on_it": _on_the_mesh(screen),
        "tension": measuring,
        "tension_due": _tension_due(screen, now, in_force),
        "cycles": _by_cycle(events),
        "current_cycle": screen.open_cycle,
        "take_back": events[0] if events and events[0].kind != "taken_back" else None,
    }
    return render(request, "screens/passport.html", context)


def _linked(found, screen):
    return {"verdict": found, "url": step_url(found.step.kind, screen.code)}


def _on_the_mesh(screen):
    """The coat, exposure and reading of the stencil that is on the mesh now."""
    if screen.open_cycle is None or screen.state == lifecycle.State.BARE:
        return []
    return screen.open_cycle.events.standing().filter(kind__in=["coat", "expose", "read_test"])


def _unread_test_url(screen):
    """Where the washed step test on this screen is read; empty once it has been."""
    if not (screen.is_test and screen.state == lifecycle.State.WASHED):
        return ""
    events = screen.meshing.events.standing().filter(cycle=screen.open_cycle)
    exposed = events.filter(kind="expose").last()
    if events.filter(kind="read_test").exists() or not exposed or "test" not in exposed.facts:
        return ""
    return test_url(exposed.facts["test"])


def _last_measuring(screen):
    event = screen.meshing.events.standing().filter(kind="tension").select_related("tension").order_by("-at").first()
    if event is None or not hasattr(event, "tension"):
        return None
    values = event.tension.values.all()
    readings = [TensionReading(v.place, v.direction, v.n_per_cm) for v in values]
    return {"event": event, "summary": summarise(readings, standards.current())}


def _tension_due(screen, now, in_force):
    if screen.tension_at is None:
        return "Never measured on this mesh."
    days = (now - screen.tension_at).days
    if days > in_force["tension.recheck_days"]:
        return f"Measured {days} days ago: measure again."
    return ""


def _by_cycle(events):
    """The life as (cycle or None, records) in order, newest first."""
    grouped = []
    for event in events:
        if not grouped or grouped[-1][0] != event.cycle:
            grouped.append((event.cycle, []))
        grouped[-1][1].append(event)
    return grouped


@recorders
def tension(request, code):
    """Record a tension measuring; typed, or taken from the simulated gauge."""
    screen = get_screen(code)
    in_force = standards.current()
    form = TensionForm(request.POST or None, standards=in_force, initial={"revision": screen.revision})
    if request.method == "POST":
        done = form.attempt(
            lambda cleaned: actions.record_tension(
                screen.code,
                form.readings(),
                request.user,
                simulated=cleaned["simulated"],
                revision=cleaned["revision"],
                note=cleaned["note"],
            )
        )
        if done:
            messages.success(request, f"{screen.code}: {done.event.summary}.")
            return redirect("screens:passport", screen.code)
    refused = lifecycle.tension_refused(screen.life, timezone.now())
    context = {"screen": screen, "form": form, "refused": refused, "last": _last_measuring(screen)}
    return render(request, "screens/tension.html", context, status=422 if form.errors else 200)


def gauge(request, code):
    """A set of readings from the simulated tension gauge, for the tension form."""
    screen = get_screen(code)
    true = screen.tension_n_per_cm or 24.0
    seed = screen.pk * 1000 + screen.meshing.events.filter(kind="tension").count()
    readings = tension_gauge.read_screen(true, seed)
    values, seen = {}, {}
    for reading in readings:
        key = (reading.place, reading.direction)
        seen[key] = seen.get(key, 0) + 1
        values[TensionForm.name(*key, seen[key])] = reading.n_per_cm
    return JsonResponse({"values": values})


def tension_preview(request, code):
    """Mean, range and verdict of readings still being typed; judged by the core, stored nowhere."""
    in_force = standards.current()
    form = TensionForm(request.POST, standards=in_force)
    form.is_valid()
    try:
        summary = summarise(form.readings(), in_force)
    except OutOfRange as error:
        return JsonResponse({"ready": False, "reason": str(error)})
    return JsonResponse(
        {
            "ready": True,
            "mean": f"{summary.mean:.1f}",
            "range": f"{summary.range:.1f}",
            "difference": f"{summary.warp_weft_difference:.1f}",
            "verdict": f"{summary.verdict.verdict.capitalize()}.",
            "reason": summary.verdict.reason,
            "remarks": list(summary.remarks),
        }
    )


def _simple(kind, button, act, form=StepForm, lead="", initial=None):
    return StepPage(kind, form, act, button, lead, initial=initial)


STEP_PAGES = {
    page.kind: page
    for page in (
        _simple(
            "degrease", "Record degreased",
            lambda form, screen, person: actions.degrease(
                screen.code, person, dwell_s=form.cleaned_data["dwell_s"], **form.common()),
            DegreaseForm,
            "Wet both sides, degrease up and down, across and circling, dwell, rinse until no foam and then longer. "
            "Hold it against the light: left emulsion or haze spoils the next image.",
            lambda screen, s: {"dwell_s": f"{s['degrease.dwell_s']:g}"},
        ),
        _simple(
            "dry_mesh", "Record mesh dry",
            lambda form, screen, person: actions.record_mesh_dry(screen.code, person, **form.common()),
            lead="Feel both sides with a clean dry hand, rails and corners too, and look against the light.",
        ),
        _simple(
            "image", "Record image burned",
            lambda form, screen, person: actions.burn_image(screen.code, person, **form.common()),
            lead="The thermal head melts the image into the film of the mesh. No coat, light or washout.",
        ),
        _simple(
            "block_out", "Record stencil made",
            lambda form, screen, person: actions.block_out(screen.code, person, **form.common()),
            lead="Drawing fluid and filler, or cut and masked with tape.",
        ),
        _simple(
            "strip", "Record ink stripped",
            lambda form, screen, person: actions.strip(screen.code, person, **form.common()),
            lead="Tape off, ink out, on a wet screen and from both sides, with the pad kept for ink. Rinse close, in "
            "level tracks.",
        ),
        _simple(
            "reclaim", "Record reclaimed",
            lambda form, screen, person: actions.reclaim(
                screen.code, person, rounds=form.cleaned_data["rounds"], minutes=form.cleaned_data["minutes"],
                outcome=form.cleaned_data["outcome"], **form.common()),
            ReclaimForm,
            "Emulsion remover on both sides with its own pad, extra at the edges. Never let it dry: that makes the rest "
            "permanent. Pressure-rinse, look against light before it dries; a green shadow wants another round.",
        ),
        _simple(
            "cut_out", "Record mesh cut out",
            lambda form, screen, person: actions.cut_out(screen.code, person, **form.common()),
            lead="The thermal mesh is thrown away after its job; the frame waits for new mesh.",
        ),
    )
}  # fmt: skip


@recorders
def step(request, code, kind):
    """One of the simple steps: degrease, dry, strip, reclaim and those of thermal film and hand stencils."""
    if kind not in STEP_PAGES:
        raise Http404("There is no such step.")

    def extra(screen, in_force, form):
        key = {"degrease": "degrease.dwell_s", "reclaim": "reclaim.dwell_s"}.get(kind)
        return {"dwell_s": in_force[key] if key else None}

    return show_step(request, code, STEP_PAGES[kind], extra)


@recorders
def take_back(request, code):
    """Take back the last record of a screen."""
    screen = get_screen(code)
    last = screen.meshing.events.standing().select_related("by").order_by("-at", "-pk").first()
    form = TakeBackForm(request.POST or None, initial={"revision": screen.revision})
    if request.method == "POST":
        done = form.attempt(
            lambda cleaned: ledger.take_back(screen.code, request.user, cleaned["reason"], cleaned["revision"])
        )
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:passport", screen.code)
    context = {"screen": screen, "form": form, "last": last}
    return render(request, "screens/take_back.html", context, status=422 if form.errors else 200)


@recorders
def place(request, code):
    """Put a screen into a slot of the rack's drawing."""
    screen = get_screen(code)
    form = PlaceForm(request.POST or None, initial={"revision": screen.revision, "slot": request.GET.get("slot", "")})

    def put(cleaned):
        try:
            slot = Slot.objects.select_related("rack", "screen__frame").get(code=cleaned["slot"].strip().upper())
        except Slot.DoesNotExist:
            raise OutOfRange(f"No slot is called {cleaned['slot']}.", "slot") from None
        return actions.place(screen.code, slot, request.user, revision=cleaned["revision"], note=cleaned["note"])

    if request.method == "POST":
        done = form.attempt(put)
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:rack")
        screen = get_screen(code)
    context = {
        "screen": screen,
        "form": form,
        "refused": lifecycle.place_refused(screen.life),
        "racks": _racks(for_screen=screen),
    }
    return render(request, "screens/place.html", context, status=422 if form.errors else 200)


def rack(request):
    """The racks as they stand."""
    wanted = request.GET.get("slot", "").upper()
    loose = Screen.objects.for_lists().filter(slot__isnull=True, state=lifecycle.State.BARE)
    return render(request, "screens/rack.html", {"racks": _racks(marked=wanted), "marked": wanted, "loose": loose})


def _racks(for_screen=None, marked=""):
    """Racks with their slots; with a screen, each free slot knows whether it takes it."""
    in_force = standards.current()
    racks = []
    for found in Rack.objects.prefetch_related("slots__screen__frame", "slots__screen__meshing__mesh"):
        slots = []
        for slot in found.slots.all():
            slot.rack = found
            holder = getattr(slot, "screen", None)
            reason = ""
            if for_screen is not None:
                reason = storage.why_not(actions.screen_facts(for_screen), actions.slot_facts(slot), in_force)
            slots.append({"slot": slot, "screen": holder, "reason": reason, "marked": slot.code == marked})
        free = sum(1 for s in slots if s["screen"] is None)
        racks.append({"rack": found, "slots": slots, "free": free})
    return racks


def station(request, name):
    """The screens at one station, each with its next step and the reason."""
    if name not in STATION_WORDS:
        raise Http404("There is no such station.")
    in_force, now = standards.current(), timezone.now()
    rows = []
    for screen in Screen.objects.for_lists().at_work():
        if lifecycle.station(screen.life, now) == name:
            first = lifecycle.next_steps(screen.life, now, in_force)[0]
            rows.append({"screen": screen, "first": first, "url": step_url(first.step.kind, screen.code)})
    title, words = STATION_WORDS[name]
    rows.sort(key=lambda r: r["screen"].wet_until or r["screen"].since or now)
    bare = Screen.objects.for_lists().filter(state=lifecycle.State.BARE) if name == "coat" else None
    context = {"rows": rows, "title": title, "words": words, "name": name, "caution": cautions.for_step(name)}
    context["bare"] = bare
    return render(request, "screens/station.html", context)


def meshes(request):
    """Every mesh of the shop with its geometry."""
    in_force = standards.current()
    kinds = [{"mesh": m, "geometry": m.geometry(in_force)} for m in MeshKind.objects.all()]
    return render(request, "screens/meshes.html", {"kinds": kinds})


def mesh_card(request, pk):
    """One mesh: its geometry and the screens that carry it."""
    kind = get_object_or_404(MeshKind, pk=pk)
    screens = Screen.objects.for_lists().filter(meshing__mesh=kind)
    context = {"mesh": kind, "geometry": kind.geometry(standards.current()), "screens": screens}
    return render(request, "screens/mesh.html", context)


@leads
def add_mesh(request):
    """Add a mesh to the shop's list, typed as on its label."""
    form = MeshForm(request.POST or None)
    if request.method == "POST":
        kind = form.attempt(_add_mesh)
        if kind:
            messages.success(request, f"{kind} added.")
            return redirect("screens:mesh", kind.pk)
    return render(request, "screens/add_mesh.html", {"form": form}, status=422 if form.errors else 200)


def _add_mesh(cleaned):
    in_force = standards.current()
    spec = mesh.parse_mesh(cleaned["notation"], in_force)
    if isinstance(spec, mesh.Ambiguous):
        raise OutOfRange(f"{spec.question} Write it with its unit, such as {spec.choices[0]}.", "notation")
    if spec.thread_um is None:
        raise OutOfRange("Give the thread diameter too, such as 43-80: opening and ink volume need it.", "notation")
    thickness = cleaned["fabric_thickness_um"]
    mesh.geometry(spec.count_per_cm, spec.thread_um, in_force, thickness)
    kind, made = MeshKind.objects.get_or_create(
        count_per_cm=spec.count_per_cm,
        thread_um=spec.thread_um,
        colour=spec.colour or cleaned["colour"],
        thermal=False,
        defaults={"fabric_thickness_um": thickness},
    )
    if not made:
        raise OutOfRange(f"{kind} is on the list already.", "notation")
    return kind


@recorders
def register(request):
    """Register one new frame with its mesh."""
    form = RegisterForm(request.POST or None, initial={"line": lifecycle.Line.PHOTO})
    if request.method == "POST":
        screen = form.attempt(
            lambda c: actions.register_screen(
                c["code"],
                c["material"],
                c["width_mm"],
                c["height_mm"],
                c["mesh"],
                lifecycle.Line.THERMAL if c["mesh"].thermal else c["line"] or lifecycle.Line.PHOTO,
                request.user,
            )
        )
        if screen:
            messages.success(request, f"{screen.code} registered.")
            return redirect("screens:passport", screen.code)
    return render(request, "screens/register.html", {"form": form}, status=422 if form.errors else 200)


def find(text: str):
    """Where a scanned or typed text leads within the register: a URL name with arguments, or None."""
    code = text.strip().upper()
    if Frame.objects.filter(code=code).exists():
        return ("screens:passport", code)
    if Slot.objects.filter(code=code).exists():
        return ("screens:rack", code)
    try:
        spec = mesh.parse_mesh(text, standards.current())
    except OutOfRange:
        return None
    specs = spec.choices if isinstance(spec, mesh.Ambiguous) else (spec,)
    for choice in specs:
        kinds = MeshKind.objects.filter(count_per_cm__range=(choice.count_per_cm - 0.4, choice.count_per_cm + 0.4))
        if choice.thread_um:
            kinds = kinds.filter(thread_um=choice.thread_um)
        if choice.colour:
            kinds = kinds.filter(colour=choice.colour)
        if kinds.exists():
            return ("screens:mesh", kinds.first().pk)
    return None
