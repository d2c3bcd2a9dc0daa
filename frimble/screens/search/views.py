"""Searching the register, saved looks, and keys through what was found."""

from urllib.parse import urlencode

from django.contrib import messages
from django.core.paginator import Paginator
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from frimble.core.conclusions import InvalidInput
from frimble.screens import links
from frimble.screens.search import queries as search_queries
from frimble.screens.search import services as search_services
from frimble.screens.search.forms import SearchForm
from frimble.ui.input import number_in

_A_PAGE = 30
_MOST_LOOKS = 20
# Asked for less often, folded away until one is used.
_NARROWS = ("mesh", "state", "size", "rack", "least", "most")


def search(request):
    """Screens by code, mesh, size, state, tension, place and what is due."""
    form = SearchForm(request.GET if _asked(request) else {"order": "code"})
    screens = form.attempt(lambda cleaned: search_queries.search(search_queries.SearchRequest(**cleaned)))
    page = Paginator(screens, _A_PAGE).get_page(request.GET.get("page")) if screens is not None else None
    context = {
        "form": form,
        "page": page,
        "saved_searches": request.user.saved_searches.all()[:_MOST_LOOKS],
        "query": _query(request),
        "links": links.of("search"),
        "exports": links.of("search results"),
        "narrowed": any(request.GET.get(name) for name in _NARROWS),
        "codes": " ".join(s.code for s in page) if page else "",
    }
    return render(request, "screens/search/search.html", context, status=422 if form.errors else 200)


def _asked(request) -> bool:
    return any(name in request.GET for name in SearchForm.base_fields)


def _query(request) -> str:
    """What was asked, without page and empty fields."""
    return urlencode([(k, v) for k, v in request.GET.items() if k in SearchForm.base_fields and v])


@require_POST
def save_search(request):
    """Keep a search under a name, or let one go."""
    name, query = request.POST.get("name", "").strip()[:40], request.POST.get("query", "")[:300]
    if "forget" in request.POST:
        number = request.POST["forget"]
        search_services.remove(request.user, number_in(number) or 0)
    else:
        try:
            search_services.save(request.user, name, query)
        except InvalidInput as error:
            messages.error(request, str(error))
        else:
            messages.success(request, f"Kept as {name}.")
    return redirect(f"{reverse('screens:search')}?{query}")
