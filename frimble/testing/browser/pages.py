"""The main pages of the demo shop, for checks that hold on every page."""

from functools import cache

from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode

from frimble.core.training.skills import drill
from frimble.exchange.models import Draft, PackageReading
from frimble.exposures.models import ChartEntry, Lamp, StepTest
from frimble.exposures.steptests.photo import services as photo_services
from frimble.films.models import Film, FilmProcess, ScanCheck
from frimble.jobs.models import ScreenNeed
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.screens.models import MeshType, Rack
from frimble.stencils.models import StencilProof
from frimble.stencils.proofs import services as proof_services
from frimble.training import services as training_services
from frimble.training.models import DrillRun

PAGES = {
    "today": "/",
    "set up the room": "/room/",
    "schools": "/people/first-start/schools/",
    "people": "/people/",
    "add somebody": "/people/add/",
    "own page": "/people/me/",
    "room": "/server/",
    "define a rack": "/screens/rack/define/",
    "passport": "/screens/Q-014/",
    "tension": "/screens/Q-014/tension/",
    "degrease": "/screens/Q-014/do/degrease/",
    "coat": "/coat/Q-022/",
    "coat station": "/screens/at/coat/",
    "measure the coat": "/coat/Q-011/thickness/",
    "measure no coat": "/coat/Q-014/thickness/",
    "dry station": "/screens/at/dry/",
    "expose": "/expose/Q-011/",
    "expose without a time": "/expose/Q-035/",
    "plan": "/expose/Q-035/test/?guess_s=22&steps=8&series=sqrt2&card=cover&length_mm=240",
    "plan refused": "/expose/Q-035/test/?guess_s=6&steps=8&series=sqrt2&card=cover&length_mm=240",
    "plan a factor film": "/expose/Q-035/test/?kind=factor&guess_s=30",
    "plan a grey scale": "/expose/Q-035/test/?kind=grey&guess_s=30",
    "plan several screens": "/expose/Q-035/test/?kind=screens",
    "expose a thermal screen": "/expose/Q-063/",
    "two tests to choose": "/expose/tests/compare/",
    "expose in the sun": "/expose/Q-035/?lamp=3&film_process=1",
    "tests": "/expose/tests/",
    "step-test film": "/expose/film/",
    "no such film": "/expose/film/?steps=2&dpi=600",
    "light sources": "/expose/lamps/",
    "light given": "/expose/log/",
    "sheet for the wall": "/expose/chart/print/",
    "chart": "/expose/chart/",
    "inspect": "/stencil/Q-028/inspect/",
    "what went wrong": "/stencil/Q-047/wrong/?symptoms=breaks_down_on_press&symptoms=pinholes",
    "back from press": "/press/Q-007/back/",
    "harden": "/stencil/Q-003/harden/",
    "inspect by photo": "/stencil/Q-028/photo/",
    "where on the print": "/press/Q-028/print/where/",
    "no drawing of a print": "/press/Q-007/print/where/",
    "a stencil": "/press/Q-007/life/",
    "no stencil": "/press/Q-014/life/",
    "how it prints": "/press/Q-007/print/",
    "reclaim": "/screens/Q-055/do/reclaim/",
    "refused step": "/expose/Q-009/",
    "rack": "/screens/rack/",
    "place": "/screens/Q-014/place/",
    "meshes": "/screens/mesh/",
    "choose mesh": "/screens/mesh/choose/?ruling_lpi=45&finest_um=200&school=opacity&owned=all",
    "read a mesh": "/screens/mesh/read/",
    "film": "/film/processes/",
    "add a film process": "/film/processes/new/",
    "films": "/film/",
    "add a film": "/film/films/new/?job=J-301",
    "placement": "/film/placement/",
    "placement that does not fit": "/film/placement/?frame_width=580&frame_height=790&squeegee=300&film=330"
    "&images-TOTAL_FORMS=2&images-INITIAL_FORMS=0&images-0-name=Pennant&images-0-width=600&images-0-height=400"
    "&images-1-name=Star&images-1-width=90&images-1-height=90&images-1-taped=on",
    "separations": "/film/separations/J-301/",
    "batches": "/coat/batches/",
    "coat planner": "/coat/planner/?formula=P1+S1+/+P1r",
    "a formula that does not parse": "/coat/planner/?formula=P1+Q1",
    "coating runs": "/coat/runs/",
    "coaters": "/coat/coaters/",
    "how steadily": "/coat/steadiness/",
    "a batch": "/coat/batches/DZ-21/",
    "emulsions": "/coat/emulsions/?ink=water&dyed=dyed&detail_um=80",
    "drying cabinet": "/coat/drying/",
    "is it dry": "/coat/Q-009/dry/",
    "nothing to feel": "/coat/Q-014/dry/",
    "coated stock": "/jobs/coated/",
    "losses": "/losses/?by=cause&days=365",
    "jobs": "/jobs/",
    "new job": "/jobs/new/",
    "screens for coming jobs": "/jobs/screens/",
    "day plan": "/day/",
    "who is there": "/day/hours/",
    "separations of a job": "/jobs/J-302/separations/",
    "session of a job": "/jobs/J-301/session/?pieces=24&pads=4&colours=3&print_s=25&dry_s=90",
    "upkeep": "/upkeep/",
    "handover": "/handover/",
    "supplies": "/supplies/",
    "lead time": "/lead-time/?days=365",
    "stencil proofs": "/stencil/proofs/",
    "training": "/training/",
    "everybody's skills": "/training/people/",
    "refused work": "/refused/",
    "cost of a job": "/jobs/J-301/cost/",
    "job": "/jobs/J-301/",
    "register": "/screens/register/",
    "take back": "/screens/Q-014/take-back/",
    "search": "/screens/?due=tension&order=tension",
    "nine places": "/screens/Q-014/tension/?places=9",
    "marks": "/screens/Q-027/marks/",
    "bare mesh by photo": "/screens/Q-014/marks/photo/",
    "keep": "/screens/Q-055/keep/",
    "take the mesh off": "/screens/Q-014/do/take_off/",
    "mount refused": "/screens/Q-014/mount/",
    "lives": "/screens/lives/",
    "labels": "/screens/labels/?codes=Q-001..Q-004&sheet=a4-24&start=1",
    "lists in and out": "/exchange/",
    "settings": "/people/settings/",
    "not found": "/find/?q=nothing-here",
    "how to": "/how-to/",
    "a topic": "/how-to/step-test/",
    "a topic with a caution": "/how-to/coat/",
    "nothing of the handbook": "/how-to/?q=zeppelin",
    "a setting to change": "/people/settings/?change=tension.poor_below",
    "no such job": "/jobs/?q=zeppelin",
    "factor films": "/expose/factor-films/",
}


def every_page():
    """Name → address, with those that depend on what the shop holds."""
    photo = _a_photo()
    one, other = StepTest.objects.all()[:2]
    return PAGES | {
        "screen for a colour": reverse(
            "jobs:choose", args=["J-302", ScreenNeed.objects.filter(job__number="J-302")[0].pk]
        ),
        "one person": reverse("people:person", args=[Person.objects.get(username="tamsin").pk]),
        "two tests": reverse("exposures:compare") + f"?one={one.pk}&other={other.pk}",
        # One of each kind of question and picture.
        **{f"drill: {skill}": _a_drill(skill) for skill in ("steps", "stencils", "clock", "reclaim")},
        "a drill that is answered": _a_drill("steps", answered=True),
        "what if": _a_proof("stencils:what-if") + "&change=thread",
        "visible part of a proof": _a_proof("stencils:proofs"),
        "a whole film's proof": _a_proof("stencils:proof"),
        "two steps": reverse("exposures:beside", args=[photo.pk]),
        "reading": reverse("exposures:reading", args=[StepTest.objects.first().pk]),
        "strip by strip": reverse("exposures:guided", args=[StepTest.objects.first().pk]),
        "reading of many steps": reverse("exposures:reading", args=[_of_many_steps().pk]),
        "a lamp": reverse("exposures:lamp", args=[Lamp.objects.get(kind="metal_halide").pk]),
        "the sun": reverse("exposures:lamp", args=[Lamp.objects.get(kind="sun").pk]),
        "send a photo": reverse("exposures:send-photo", args=[StepTest.objects.first().pk]),
        "photo of a test": reverse("exposures:photo", args=[photo.pk]),
        "film process": reverse("films:process", args=[FilmProcess.objects.first().pk]),
        "hold-out test": reverse("films:process", args=[FilmProcess.objects.first().pk])
        + "?route=hold_out&gel_time_s=4&work_s=20",
        "a film": reverse("films:film", args=[Film.objects.first().pk]),
        "a design": reverse("press:design", args=[Film.objects.first().pk]),
        "film sheet": reverse("films:sheet", args=[ScanCheck.objects.last().pk]),
        "cabinet air": reverse("coatings:air", args=[Rack.objects.get(cabinet=True).pk]),
        "stock-take": reverse("screens:walk", args=[Rack.objects.first().pk]),
        "list to take over": reverse("exchange:draft", args=[_a_list().pk]),
        "taking a list over": reverse("exchange:draft", args=[_a_list(state="taking", number=3000, done=1200).pk]),
        "a list not taken over": reverse("exchange:draft", args=[_a_list(state="refused", refusal="Why not.").pk]),
        "a list taken over": reverse("exchange:draft", args=[_a_list(state="done", number=3000).pk]),
        "a package that is read": reverse("exchange:package", args=[_a_package(state="running", share_done=0.4)]),
        "a package not read": reverse("exchange:package", args=[_a_package(state="failed", refusal="Why not.")]),
        "a package read": reverse("exchange:package", args=[_a_package(state="done", result={"records": 3000})]),
        "moire": reverse("screens:moire", args=[MeshType.objects.first().pk]),
        "moire of plates": reverse("screens:moire", args=[MeshType.objects.first().pk])
        + "?ruling_lpi=45&dot_angle=22.5&mesh_angle=0&plates=15+22+75",
        "mesh": reverse("screens:mesh", args=[MeshType.objects.first().pk]),
    }


def _a_photo():
    """A photo of the newest step test by the simulated camera, as read."""
    test, person = StepTest.objects.first(), Person.objects.get(username="tamsin")
    return photo_services.read(
        test, person, photo=photo_services.simulated(test, 600), dpi=600, scale_bar_mm=200, wanted_um=150
    )


def _a_drill(skill: str, answered: bool = False) -> str:
    """Of the person who looks at every page."""
    person = Person.objects.get(username="odile")
    run = DrillRun.objects.create(person=person, skill=skill, level=3, seed=5, begun_at=timezone.now())
    if answered:
        shown = drill(skill, 3, 5, house_settings.current())
        training_services.answer(run, {question.name: question.right for question in shown.questions})
    return reverse("training:drill", args=[run.pk])


@cache
def _proof() -> StencilProof:
    """Of the film that was checked last, on what was calibrated last."""
    entry = ChartEntry.objects.in_force().order_by("-accepted_at").first()
    combination = {name: getattr(entry, name) for name in ("mesh", "formula", "emulsion", "lamp", "film_process")}
    scan, person = ScanCheck.objects.filter(state="done").first(), Person.objects.get(username="tamsin")
    proof = proof_services.ask(person, house_settings.current(), scan=scan, **combination)
    proof_services.work_out.call(proof.pk)
    return proof


def _a_proof(name: str) -> str:
    proof = _proof()
    if name == "stencils:proof":
        return reverse(name, args=[proof.pk])
    asked = {key: getattr(proof, f"{key}_id") for key in ("scan", "mesh", "emulsion", "lamp", "film_process")}
    return f"{reverse(name)}?{urlencode(asked | {'formula': proof.formula, 'time_s': proof.time_s})}"


def _of_many_steps() -> StepTest:
    """A test of as many strips as are ever laid side by side, not read yet."""
    test = StepTest.objects.first()
    test.pk, test._state.adding = None, True
    test.planned_times_s = test.real_times_s = [round(8 * 1.26**k, 1) for k in range(12)]
    test.save()
    return test


def _a_package(**how_far):
    return PackageReading.objects.create(file="packages/shop.zip", at=timezone.now(), **how_far).claim


def _a_list(**how_far) -> Draft:
    """A list with a cell that cannot be read, of the person who looks at every page, as far as it is taken over."""
    headings, row = ["Screen", "Mesh", "Size", "Tension"], ["R-001", "110T", "58 x 79", "23"]
    person = Person.objects.get(username="tamsin")
    return Draft.objects.create(
        headings=headings, rows=[row], notes=["A note."], at=timezone.now(), by=person, **how_far
    )
