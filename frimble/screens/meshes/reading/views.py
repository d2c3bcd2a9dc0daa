"""Which mesh is this: a close photo read; the scale strip to print."""

from django.http import HttpResponse
from django.shortcuts import render

from frimble.people.permissions import recorders
from frimble.screens.meshes.reading import presenters
from frimble.screens.meshes.reading.forms import MeshPhotoForm


@recorders
def read(request):
    """A photo is read and answered at once; nothing of it is kept."""
    form = MeshPhotoForm(request.POST or None, request.FILES or None)
    reading = None
    if request.method == "POST":
        # The image libraries load with the first photo, not with the first page.
        from frimble.screens.meshes.reading import services

        reading = form.attempt(lambda cleaned: services.read(**cleaned))
    part = presenters.part(reading) if reading and not reading.refused else None
    context = {"form": form, "reading": reading, "part": part}
    refused = bool(form.errors) or bool(reading and reading.refused)
    return render(request, "screens/meshes/read_mesh.html", context, status=422 if refused else 200)


def strip(request):
    """The scale strip, four on a sheet."""
    # Its markers are the image library's, which no other page should wait for.
    from frimble.screens.meshes.reading.strip_file import strip_pdf

    answer = HttpResponse(strip_pdf(), content_type="application/pdf")
    answer["Content-Disposition"] = 'inline; filename="scale-strip.pdf"'
    return answer
