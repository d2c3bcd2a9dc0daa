"""Template tags: quantities in the person's units, fields with label, unit and message, and the pictures."""

from django import template
from django.template import Context, loader
from django.templatetags.static import static
from django.urls import reverse
from django.utils import timezone

from frimble.core import lifecycle, units
from frimble.core.exposure.chart.production import moved_window
from frimble.core.mesh.geometry import trade_count
from frimble.core.numbers import show_number
from frimble.core.stencil.diagnosis.codes import Symptom
from frimble.ui.pictures.coating.coat_section import coat_section
from frimble.ui.pictures.coating.colour_change import colour_change
from frimble.ui.pictures.coating.control_chart import control_chart
from frimble.ui.pictures.day_lanes import day_lanes
from frimble.ui.pictures.exposure.light_field import light_field
from frimble.ui.pictures.exposure.step_pair import step_pair
from frimble.ui.pictures.exposure.step_photo import step_curve, step_photo
from frimble.ui.pictures.exposure.step_strip import step_strip
from frimble.ui.pictures.exposure.window_bar import window_bar
from frimble.ui.pictures.film.layers import film_layers
from frimble.ui.pictures.film.placement import placement
from frimble.ui.pictures.frame_sign import frame_sign
from frimble.ui.pictures.lead_weeks import lead_weeks
from frimble.ui.pictures.mesh.blemish_map import blemish_map
from frimble.ui.pictures.mesh.count_line import count_line
from frimble.ui.pictures.mesh.life_curve import life_curve
from frimble.ui.pictures.mesh.life_line import life_line
from frimble.ui.pictures.mesh.moire_plot import beat_plot, overlay
from frimble.ui.pictures.mesh.tension_plate import tension_plate
from frimble.ui.pictures.rack_elevation import rack_elevation
from frimble.ui.pictures.stencil.latent import latent_image
from frimble.ui.pictures.stencil.pareto import loss_bars
from frimble.ui.pictures.stencil.proof import proof_times, proof_tones, window_times
from frimble.ui.pictures.stencil.symptoms import symptom_drawing
from frimble.ui.pictures.training.scene import scene_picture
from frimble.ui.pictures.training.skills import skills_picture

# Kinds of controls that are laid out in a way of their own.
_OWN_FIELDS = ("checkbox", "radio")

register = template.Library()


@register.simple_tag(takes_context=True)
def mesh_count(context, count_per_cm):
    """Threads per cm or per inch."""
    if context.get("inch"):
        return f"{trade_count(count_per_cm)}/in"
    return f"{count_per_cm:.0f}/cm"


@register.simple_tag(takes_context=True)
def length(context, mm):
    """A length in mm or inches."""
    if context.get("inch"):
        return f"{mm / units.MM_PER_INCH:.1f} in"
    return f"{mm:.0f} mm"


@register.simple_tag(takes_context=True)
def size(context, width_mm, height_mm):
    """Width × height in cm or inches."""
    if context.get("inch"):
        return f"{width_mm / units.MM_PER_INCH:.1f} × {height_mm / units.MM_PER_INCH:.1f} in"
    return f"{width_mm / 10:.0f} × {height_mm / 10:.0f} cm"


@register.simple_tag(takes_context=True)
def temperature(context, celsius):
    if context.get("inch"):
        return f"{units.fahrenheit(celsius):.0f} °F"
    return f"{celsius:g} °C"


register.filter("seconds", units.show_seconds)
register.filter("significant", show_number)


@register.filter
def percent(share):
    # Rounded to a whole number first, which has no −0.
    return f"{round(share * 100)} %"


@register.filter
def state_words(screen):
    """What is on a screen's mesh, in the words of its line."""
    life = screen.life
    return lifecycle.state_words(life.state, life.line)


@register.filter
def ago(moment):
    """How long ago, as people say it."""
    if moment is None:
        return "never"
    minutes = (timezone.now() - moment).total_seconds() / 60
    return "just now" if minutes < 1 else f"{units.show_minutes(minutes)} ago"


@register.simple_tag
def strip_chart(chart, labels):
    """Control strips in their order, by step."""
    return control_chart(chart, labels, lambda step: f"step {step:.1f}", "control strips")


@register.simple_tag(name="light_field")
def light_field_tag(field, limit):
    return light_field(field, limit)


@register.filter
def minutes_until(moment):
    minutes = (moment - timezone.now()).total_seconds() / 60
    return units.show_minutes(max(minutes, 0))


@register.simple_tag
def field(bound, klass=""):
    """A form field with its label, unit and message beside it."""
    if bound.is_hidden:
        return str(bound)
    kind = getattr(bound.field.widget, "input_type", "text")
    of_kind = loader.get_template(f"ui/fields/{kind if kind in _OWN_FIELDS else 'entry'}.html").template
    shown = {
        "field": bound,
        "label": bound.label,
        "errors": bound.errors,
        "unit": getattr(bound.field, "unit", ""),
        "picked": kind == "select",
        "klass": klass,
    }
    return of_kind.render(Context(shown))


@register.simple_tag(name="frame_sign")
def frame_sign_tag(screen, width=52):
    return frame_sign(screen, timezone.now(), width)


@register.simple_tag(name="window_bar")
def window_bar_tag(time_s, low_s, high_s):
    """A window of which only the two ends are known, without their own intervals: hard edges."""
    ends = [(t, t, t) if t else None for t in (low_s, high_s)]
    return window_bar(time_s, *ends)


@register.simple_tag
def entry_window(entry, time_s=None, factors=()):
    """The window of a chart's entry, with soft edges where its ends' intervals are known.

    The pointer stands at `time_s` where the time to give is another than the entry's own; what moved it moves the window.
    """
    cured = (entry.low_s, entry.cured_low_s or entry.low_s, entry.cured_high_s or entry.low_s)
    closes = (entry.high_s, entry.closes_low_s or entry.high_s, entry.closes_high_s or entry.high_s)
    return window_bar(time_s or entry.time_s, *moved_window(cured, closes, factors))


@register.simple_tag
def reading_window(reading):
    """The window bar of a step-test reading, with soft edges from the steps each end lies between."""
    edges = [tuple(e) if e else None for e in (reading.window.cured, reading.window.closes)]
    if not any(edges) and reading.recommended.value is None:
        return ""
    return window_bar(reading.recommended.value, *edges)


@register.simple_tag
def fit_window(fit, span_s):
    """The window bar of a fit, on a scale that others share."""
    edges = [tuple(e) if e and e.bracketed else None for e in (fit.cured, fit.closes)]
    return window_bar(None, *edges, span_s)


@register.simple_tag
def plan_strip(plan, edges_mm):
    return step_strip(plan.times_s, edges_mm, [(m.at_s, m.strip) for m in plan.moves], plan.card)


@register.simple_tag
def read_strip(test, reading, found):
    """A test as it was exposed, with its grades and the chosen time."""
    count = len(test.times_s)
    edges = [test.length_mm * k / count for k in range(count + 1)]
    by_strip = {s.strip: s.grade for s in reading.steps.all()}
    grades = [by_strip.get(strip, "") for strip in range(1, count + 1)]
    return step_strip(
        test.times_s, [round(e, 1) for e in edges], test.moves, test.card, grades, found.recommended.value
    )


@register.simple_tag
def photo_of_steps(url, film, found, room_light):
    """A photo of a step test with what was read off it."""
    if room_light == "safelight":
        url += "?dark=1"
    strips = [film.steps[s.index - 1] for s in found.steps]
    return step_photo(url, film.width_mm, film.height_mm, strips, found.steps, found.recommended_s)


@register.simple_tag
def pair_of_steps(pair, room_light):
    """Two photographed steps at one scale, with what was measured on each."""
    dark = "?dark=1" if room_light == "safelight" else ""
    urls, names = [], []
    for photo, step in zip(pair.photos, pair.steps, strict=True):
        urls.append(reverse("exposures:step-picture", args=[photo.pk, step.index]) + dark)
        names.append(f"Step {step.index}, {units.show_seconds(step.time_s)}, {step.verdict}")
    if pair.photos[0] != pair.photos[1]:
        names = [f"{photo.step_test}: {name}" for photo, name in zip(pair.photos, names, strict=True)]
    return step_pair(*urls, tuple(names), pair.widths_mm, pair.height_mm, pair.sizes)


def _ends_of(found):
    """(value, low, high) of each end of a photo's window, None where it is not known."""
    return [tuple(end) if end else None for end in (found.cured, found.closes)]


@register.simple_tag
def photo_window(found):
    """The window bar of a photo's reading."""
    return window_bar(found.recommended_s, *_ends_of(found))


@register.simple_tag
def grade_picture(grade, dark):
    """Address of the drawn strip that shows a grade, by day or, where `dark`, in amber."""
    return static(f"exposures/grades/{grade}-{'amber' if dark else 'day'}.png")


@register.simple_tag
def photo_curve(film, found):
    """The curve that a photo's time was read from."""
    return step_curve(found.steps, film.opening_widths_um, *_ends_of(found), found.recommended_s)


@register.simple_tag
def rack_links(entry):
    """The rack's drawing; a screen leads to its passport, a free slot nowhere."""
    urls = {s["slot"].code: reverse("screens:passport", args=[s["screen"].code]) for s in entry["slots"] if s["screen"]}
    return rack_elevation(entry["rack"], entry["slots"], timezone.now(), urls)


@register.simple_tag
def place_picture(entry, screen):
    """The rack's drawing for putting a screen away; a slot that takes it fills the form."""
    here = reverse("screens:place", args=[screen.code])
    urls = {s["slot"].code: f"{here}?slot={s['slot'].code}" for s in entry["slots"] if not s["reason"]}
    return rack_elevation(entry["rack"], entry["slots"], timezone.now(), urls)


@register.simple_tag(name="life_line")
def life_line_tag(life, cycles, events, limit):
    return life_line(life, cycles, events, timezone.now(), limit)


@register.simple_tag(name="life_curve")
def life_curve_tag(curve):
    return life_curve(curve)


@register.simple_tag(name="tension_plate")
def tension_plate_tag(places, mean):
    return tension_plate(places, mean)


@register.simple_tag(name="blemish_map")
def blemish_map_tag(screen, blemishes, width):
    return blemish_map(screen, blemishes, width)


@register.simple_tag
def placement_picture(plan):
    return placement(plan)


@register.simple_tag
def film_layers_picture(transfer):
    return film_layers(transfer)


@register.simple_tag
def moire_plot(result):
    return beat_plot(result["scan"], result["threshold_mm"], result["dot_angle"], result["calm"])


@register.simple_tag
def moire_overlay(mesh, result):
    return overlay(mesh.count_per_cm, mesh.thread_um, result["ruling_per_cm"], *result["angles"])


@register.simple_tag(name="coat_section")
def coat_section_tag(geometry, eom, print_share, aim_um, measured_um=None):
    return coat_section(geometry, eom, print_share, aim_um, measured_um)


@register.simple_tag(name="control_chart")
def control_chart_tag(chart, labels):
    return control_chart(chart, labels)


@register.filter
def minutes(value):
    """Minutes as people say them."""
    return units.show_minutes(value)


@register.simple_tag
def colour_swatches(emulsion):
    """The coat's colour before and after light."""
    return colour_change(emulsion.name, emulsion.colour, emulsion.exposed_colour)


@register.simple_tag
def latent_picture(emulsion):
    """The coat between light and wash, with an image in it."""
    return latent_image(emulsion.name, emulsion.colour, emulsion.exposed_colour)


@register.simple_tag
def symptom_picture(code):
    """The drawing of a symptom."""
    return symptom_drawing(Symptom(code))


@register.simple_tag
def count_line_picture(reading, ours):
    """A mesh reading's count and interval among the meshes of the shop."""
    return count_line(reading.count_per_cm, reading.count_low, reading.count_high, ours)


@register.simple_tag
def loss_bars_picture(losses):
    """Losses, the dearest first."""
    return loss_bars(losses)


@register.simple_tag
def day_lanes_picture(lanes, hours, now_min, minutes):
    """A day's plan, one lane a screen."""
    return day_lanes(lanes, hours, now_min, minutes)


@register.simple_tag
def lead_weeks_picture(weeks):
    """Lead time by week."""
    return lead_weeks(weeks)


@register.simple_tag
def proof_times_picture(tried, time_s):
    """What a film loses by time."""
    return proof_times(tried, time_s)


@register.simple_tag
def window_times_picture(window, time_s, most_s):
    """A working window in seconds."""
    return window_times(window, time_s, most_s)


@register.simple_tag
def proof_tones_picture(tones):
    """What a halftone's tones become."""
    return proof_tones(tones)


@register.simple_tag(name="scene_picture")
def scene_tag(scene):
    """A drill's drawing."""
    return scene_picture(scene)


@register.simple_tag(name="skills_picture")
def skills_tag(rows):
    """Skills by level."""
    return skills_picture(rows)
