from django.apps import AppConfig


class ExchangeConfig(AppConfig):
    name = "frimble.exchange"
