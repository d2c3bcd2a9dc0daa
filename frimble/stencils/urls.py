from django.urls import path

from frimble.stencils.diagnosis import views as diagnosis_views
from frimble.stencils.finishing import views as finishing_views
from frimble.stencils.inspecting import views as inspecting_views
from frimble.stencils.inspecting.photo import views as photo_views
from frimble.stencils.proofs import views as proof_views
from frimble.stencils.washing import views as washing_views
from frimble.stencils.whatif import views as whatif_views

app_name = "stencils"

urlpatterns = [
    path("proofs/", proof_views.start, name="proofs"),
    path("proofs/part/", proof_views.part, name="proof-part"),
    path("proofs/part.png", proof_views.part_picture, name="proof-part-picture"),
    path("proofs/<int:pk>/", proof_views.proof, name="proof"),
    path("proofs/<int:pk>/stencil.png", proof_views.proof_picture, name="proof-picture"),
    path("proofs/<int:pk>/progress/", proof_views.progress, name="proof-progress"),
    path("photos/<int:pk>/", photo_views.photo, name="photo"),
    path("photos/<int:pk>/progress/", photo_views.progress, name="photo-progress"),
    path("photos/<int:pk>/picture.png", photo_views.picture, name="photo-picture"),
    path("what-if/", whatif_views.what_if, name="what-if"),
    path("what-if/part.png", whatif_views.picture, name="what-if-picture"),
    path("<str:code>/harden/", finishing_views.harden, name="harden"),
    path("<str:code>/photo/", photo_views.send, name="send-photo"),
    path("<str:code>/by-eye/", photo_views.by_eye, name="by-eye"),
    path("latent/<int:pk>.png", washing_views.latent_photo, name="latent-photo"),
    path("<str:code>/wash/", washing_views.wash, name="wash"),
    path("<str:code>/inspect/", inspecting_views.inspect, name="inspect"),
    path("<str:code>/wrong/", diagnosis_views.diagnosis, name="diagnosis"),
]
