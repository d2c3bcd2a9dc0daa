"""The step-test film to print."""

from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import WholeField


class TargetFilmForm(ActForm):
    """The step-test film to print."""

    steps = WholeField(label="Steps")
    dpi = WholeField(label="Printer, dpi")
