from django.apps import AppConfig


class ServerConfig(AppConfig):
    name = "frimble.server"

    def ready(self):
        """The room's server has its stop at the side, and an overdue backup stands on Today."""
        from django.urls import reverse

        from frimble.jobs.frame.line import add_side_stop
        from frimble.jobs.today import on_today
        from frimble.server.room.presenters import overdue

        add_side_stop("Room", "server:room")

        @on_today
        def backup_overdue() -> list[dict]:
            fact = overdue()
            return [{"who": "Backup", "words": fact.words, "url": reverse("server:room")}] if fact else []
