from django.apps import AppConfig


class ExchangeConfig(AppConfig):
    name = "frimble.exchange"

    def ready(self):
        """The register leads to the lists, and what was found in it goes out as one."""
        from frimble.people.house.pages import add_room_page
        from frimble.screens import links

        add_room_page("Import and export", "exchange:exchange")

        links.add("search", links.PageLink("Import and export", "exchange:exchange"))
        for kind in ("csv", "xlsx"):
            links.add("search results", links.PageLink(kind.upper(), "exchange:export", arguments=(kind,)))
