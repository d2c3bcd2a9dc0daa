"""How to, its search, its terms, and what of it belongs to the page that somebody is on."""

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import Resolver404, resolve
from django.views.decorators.http import require_safe

from frimble.handbook import pictures, printing
from frimble.handbook.topics import all_topics, for_page, search, terms, topic
from frimble.people import settings as house_settings


@require_safe
def topics(request):
    """All topics in the order of the work, or those that hold the sought words."""
    sought = request.GET.get("q", "").strip()[:80]
    words = sorted(terms().items(), key=lambda pair: pair[0].casefold())
    if sought:
        words = [pair for pair in words if sought.casefold() in " ".join(pair).casefold()]
    context = {"topics": search(sought) if sought else all_topics(), "terms": words, "sought": sought}
    return render(request, "handbook/topics.html", context)


@require_safe
def one(request, name):
    """One topic with its picture."""
    shown = topic(name)
    if shown is None:
        raise Http404("The handbook has no such topic.")
    picture, words = pictures.drawn(shown.picture)
    return render(request, "handbook/topic.html", {"topic": shown, "picture": picture, "picture_words": words})


@require_safe
def here(request):
    """The topic of a page and all terms, as a part that the page's own help takes in."""
    try:
        name = resolve(request.GET.get("page", "")).view_name
    except Resolver404:
        name = ""
    return render(request, "handbook/here.html", {"topic": for_page(name), "terms": terms()})


@require_safe
def printed(request):
    """The whole handbook as a PDF on the room's paper."""
    pdf = printing.as_pdf(house_settings.current()["room.paper"])
    return HttpResponse(
        pdf,
        content_type="application/pdf",
        headers={"Content-Disposition": 'attachment; filename="frimble-handbook.pdf"'},
    )
