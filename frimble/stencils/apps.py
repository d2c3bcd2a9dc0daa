from django.apps import AppConfig


class StencilsConfig(AppConfig):
    name = "frimble.stencils"
