from django.urls import path

from frimble.exchange import views

app_name = "exchange"

urlpatterns = [
    path("", views.exchange, name="exchange"),
    path("lists/<int:pk>/", views.draft, name="draft"),
    path("screens.<str:kind>", views.export, name="export"),
    path("shop.zip", views.whole_shop, name="shop"),
]
