from django.urls import path

from frimble.exchange import views

app_name = "exchange"

urlpatterns = [
    path("", views.exchange, name="exchange"),
    path("lists/<int:pk>/", views.draft, name="draft"),
    path("packages/<uuid:claim>/", views.package, name="package"),
    path("packages/<uuid:claim>/again/", views.read_again, name="read-again"),
    path("packages/<uuid:claim>/progress/", views.package_progress, name="package-progress"),
    path("screens.<str:kind>", views.export, name="export"),
    path("shop.zip", views.whole_shop, name="shop"),
]
