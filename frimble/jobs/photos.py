"""Photographs kept with a design: what film, stencil and print looked like, for the next time it is made."""

from django.utils import timezone

from frimble.jobs.models import Job, Photo
from frimble.ui.photos import redrawn


def keep_photo(job: Job, person, *, picture, shows, words="") -> Photo:
    """Store a photograph.

    Raises:
        InvalidInput: not a picture, or one too large.
    """
    photo = Photo(job=job, shows=shows, words=words, at=timezone.now(), by=person)
    photo.picture.save("photo", redrawn(picture, "picture"), save=False)
    photo.save()
    return photo
