"""Where each step of the work is done. Pages of later stations are named here by URL, not imported."""

from django.urls import reverse

_PAGES = {
    "coat": "coatings:coat",
    "expose": "exposures:expose",
    "wash": "stencils:wash",
    "inspect": "stencils:inspect",
    "to_press": "press:to-press",
    "from_press": "press:from-press",
}


def step_url(kind: str, code: str) -> str:
    """Address of the page where this step is done to this screen."""
    if kind in _PAGES:
        return reverse(_PAGES[kind], args=[code])
    return reverse("screens:step", args=[code, kind])


def test_url(test_id: int) -> str:
    """Address of the page where a step test is read."""
    return reverse("exposures:reading", args=[test_id])
