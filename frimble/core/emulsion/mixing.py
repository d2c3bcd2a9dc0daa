"""Mixing two-part emulsion: how much sensitiser a base wants, and what topping up a sensitised remainder owes and ages."""

from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput, Settings, require_between, require_positive


@dataclass(frozen=True)
class Mix:
    """What to put together, all in the unit the base was given in, and the age in days that the whole counts as."""

    base: float
    sensitiser: float
    total: float
    age_days: float
    words: tuple[str, ...]


def mix(base: float, ratio: float, settings: Settings) -> Mix:
    """Sensitiser for a base.

    Args:
        base: of unsensitised emulsion, by volume or by weight. ratio: parts of emulsion to one of sensitiser, in the same.

    Raises:
        InvalidInput: nothing to mix, or a ratio no maker states.

    Common practice: 10 : 1 by volume; always as the product's label says.
    """
    return top_up(0, base, ratio, 0, settings)


def refuse_sensitiser(kind: str) -> None:
    """Refuse to sensitise what comes ready.

    Raises:
        InvalidInput: a photopolymer: more sensitiser spoils it.
    """
    if kind == "photopolymer":
        raise InvalidInput(
            "A photopolymer comes ready-sensitised: no sensitiser is mixed into it. Leave the parts empty.", "ratio"
        )


def top_up(remainder: float, base: float, ratio: float, remainder_age_days: float | None, settings: Settings) -> Mix:
    """New base added to a sensitised remainder: sensitiser is owed for the new base only, the age is the oldest part's.

    Args:
        remainder: already sensitised, same unit as base. remainder_age_days: since it was mixed; None where nobody knows.

    Raises:
        InvalidInput: as `mix`, or a remainder that is less than nothing, from the future, or of unknown age.
    """
    require_positive(base, "The new base", "base")
    require_between(ratio, settings["emulsion.least_ratio"], settings["emulsion.most_ratio"], "The ratio", "ratio")
    require_between(remainder, 0, 1e6, "The remainder", "remainder")
    if remainder and remainder_age_days is None:
        raise InvalidInput(
            "Say of which batch the remainder is, or how many days ago it was mixed: the whole counts as old as that.",
            "remainder_age_days",
        )
    if remainder_age_days is not None and remainder_age_days < 0:
        raise InvalidInput("The remainder is dated in the future: check when it was mixed.", "remainder_age_days")
    sensitiser = base / ratio
    words = [
        f"{sensitiser:.4g} of sensitiser for {base:.4g} of base, {ratio:g} to 1; none for what is sensitised already."
    ]
    if remainder:
        words.append(
            f"The whole counts as {remainder_age_days:g} days old: its oldest part decides. Test its exposure again."
        )
    words.append("Stir slowly, let it stand until the bubbles are out, and write the date on the container.")
    age = remainder_age_days if remainder and remainder_age_days is not None else 0.0
    return Mix(base, sensitiser, remainder + base + sensitiser, age, tuple(words))
