"""Other ways to a stencil than a calibrated exposure, each with what it saves and what it costs."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Alternative:
    """One other way: its name, what it spares, what it costs, and the screens at hand for it, where it needs its own."""

    name: str
    spares: str
    costs: str
    screens: tuple[str, ...] = ()


def other_ways(thermal_screens: tuple[str, ...], sun_lamps: tuple[str, ...]) -> list[Alternative]:
    """The ways this shop has: thermal-film screens that stand free, and the sun with a meter.

    Source: common practice, none published; 85 lines/inch on 200 threads/inch where photo emulsion wants 305–330.
    """
    ways = []
    if thermal_screens:
        ways.append(
            Alternative(
                "Thermal film",
                "No coat, no film, no exposure, no washing out: some 10 min from bare frame to press, and finer rulings "
                "than emulsion holds on the same mesh.",
                "One job: the mesh is cut out and thrown away after it, and nothing of it is reclaimed.",
                thermal_screens,
            )
        )
    if sun_lamps:
        ways.append(
            Alternative(
                f"The sun ({', '.join(sun_lamps)})",
                "No lamp; seconds of light.",
                "Never twice the same, so low confidence: the light meter at every exposure scales the time, a control "
                "strip on every screen says whether it was right, and it wants a step test of its own.",
            )
        )
    return ways


THERMAL_WORDS = (
    "A thermal-film screen skips all this: no emulsion, no exposure, no washing out. The thermal head opens its image; "
    "after the job the mesh is cut out."
)
