"""Pictures in the light of the room: as they are, or in amber without any blue where live emulsion lies about."""

import io

from django.http import HttpResponse


def in_room_light(picture, request, prepare=lambda image: image) -> bytes:
    """A stored picture as PNG bytes, cut or made smaller by `prepare`; `?dark=1` asks for amber."""
    from PIL import Image

    with picture.open() as file:
        return png(prepare(Image.open(file)), asks_dark(request))


def asks_dark(request) -> bool:
    """Whether the page that asks is drawn for a room with live emulsion."""
    return request.GET.get("dark") == "1"


def png(image, dark: bool) -> bytes:
    """A picture as PNG bytes; `dark` in amber monochrome."""
    from PIL import Image

    if dark:
        grey = image.convert("L")
        image = Image.merge("RGB", (grey, grey.point(lambda v: v * 6 // 10), Image.new("L", image.size)))
    file = io.BytesIO()
    image.save(file, "PNG")
    return file.getvalue()


def picture_answer(data: bytes) -> HttpResponse:
    """The answer that carries a PNG; pictures of records do not change."""
    answer = HttpResponse(data, content_type="image/png")
    answer["Cache-Control"] = "private, max-age=3600"
    return answer
