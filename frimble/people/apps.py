from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "frimble.people"
    verbose_name = "People and house settings"

    def ready(self):
        """House settings are shared until changed, rows hold to their columns, and the log is told what is written."""
        from django.contrib.auth.signals import user_logged_in
        from django.core.signals import request_finished, request_started
        from django.db.models.signals import post_delete, post_save, pre_save

        from frimble.people import settings as house_settings
        from frimble.people import write_log
        from frimble.people.models import HouseSetting
        from frimble.people.records.fields import hold_columns

        request_started.connect(house_settings.begin_request)
        request_finished.connect(house_settings.end_request)
        for written in (post_save, post_delete):
            written.connect(house_settings.KEPT.invalidate, sender=HouseSetting, dispatch_uid="house settings")
        pre_save.connect(hold_columns)
        post_save.connect(write_log.note_row)
        post_delete.connect(write_log.note_row)
        user_logged_in.disconnect(dispatch_uid="update_last_login")
        user_logged_in.connect(_note_sign_in)
        user_logged_in.connect(_begin_session)


def _note_sign_in(sender, user, **kwargs) -> None:
    """When somebody came in last. Who can make room on a full disk is let in, though that cannot be written down."""
    from django.contrib.auth.models import update_last_login
    from django.db import OperationalError, transaction

    try:
        with transaction.atomic():
            update_last_login(sender, user)
    except OperationalError:
        return


def _begin_session(sender, request, **kwargs) -> None:
    from frimble.people.door import sessions

    # A test's client signs in without a browser.
    if request is not None and "REMOTE_ADDR" in request.META:
        sessions.begin(request)
