"""`manage.py person`: people of the room from a terminal, for whoever may start the server."""

from django.core.management.base import BaseCommand, CommandError

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings
from frimble.people.accounts import presenters, services
from frimble.people.models import Person

_ROLES = [role.value for role in Person.Role]


class Command(BaseCommand):
    help = "List the people of the room, add one, change a role, make a one-time code, let somebody leave or come back."

    def add_arguments(self, parser):
        deeds = parser.add_subparsers(dest="deed", required=True)
        deeds.add_parser("list", help="everybody, with role and how they stand at the door")
        add = deeds.add_parser("add", help="somebody new; prints a one-time code to hand over")
        add.add_argument("username")
        add.add_argument("--name", help="as pages show it; by default the name to sign in with")
        add.add_argument("--role", choices=_ROLES, default=Person.Role.TECHNICIAN.value)
        role = deeds.add_parser("role", help="change what somebody may do")
        role.add_argument("username")
        role.add_argument("role", choices=_ROLES)
        for deed, words in (
            ("code", "a one-time code, such as for a forgotten password"),
            ("leave", "signs in no more; the records stay"),
            ("return", "may sign in again"),
            ("sign-out", "ends all their sessions"),
        ):
            deeds.add_parser(deed, help=words).add_argument("username")

    def handle(self, *args, deed, username="", name=None, role=None, **options):
        try:
            if deed == "list":
                return self._list()
            if deed == "add":
                units = house_settings.current()["room.units"]
                return self._code(services.add(username, name or username.capitalize(), role, units))
            somebody = _named(username)
            if deed == "code":
                return self._code(somebody)
            _DEEDS[deed](somebody, role)
        except InvalidInput as error:
            raise CommandError(str(error)) from None
        except RuleViolation as refusal:
            raise CommandError(refusal.reason) from None
        self.stdout.write(f"{somebody}: done.")

    def _list(self) -> None:
        for row in presenters.rows():
            self.stdout.write(f"{row.person.username:16} {row.role:14} {row.state}")

    def _code(self, somebody: Person) -> None:
        code = services.make_code(somebody, None)
        self.stdout.write(f"One-time code for {somebody}, good once, for three days: {code}")


_DEEDS = {
    "role": lambda person, role: services.change(person, str(person), role),
    "leave": lambda person, role: services.leave(person),
    "return": lambda person, role: services.come_back(person),
    "sign-out": lambda person, role: services.sign_out_everywhere(person),
}


def _named(username: str) -> Person:
    person = Person.objects.filter(username__iexact=username).first()
    if person is None:
        raise InvalidInput(f"Nobody signs in as {username}.")
    return person
