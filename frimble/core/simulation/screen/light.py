"""Light under a film, and how deep a coat hardens by it: closed forms for edges, slits and lines."""

import math
from dataclasses import dataclass

from scipy.special import erf, erfinv

from frimble.core.conclusions import InvalidInput, require_between, require_positive


def light_in_slit(width_um: float, spread_um: float, leak: float = 0.0) -> float:
    """Light in the middle of a long black slit, of that through clear film; `leak` is what black itself lets through."""
    return float(1 - (1 - leak) * erf(width_um / (2 * math.sqrt(2) * spread_um)))


def slit_with(share: float, spread_um: float, leak: float = 0.0) -> float:
    """The width of the slit, µm, in whose middle there is so much light; it turns `light_in_slit` round."""
    height = min(max(1 - share, 0.0) / (1 - leak), 1 - 1e-12)
    return float(2 * math.sqrt(2) * spread_um * erfinv(height))


def spread_that_closes(opening_um: float, gel_times: float) -> float:
    """How far light must spread, as a standard deviation in µm, for an opening to close at so many times the gel time."""
    return opening_um / slit_with(1 / gel_times, 1.0)


@dataclass(frozen=True)
class Exposure:
    """A coat under its light; doses are told in seconds at the lamp through clear film.

    Attributes:
        thickness_um: of the whole coat, mesh counted. over_mesh_um: of it on the print side of the threads.
        time_s: given. full_s: that cures the coat through. gel_s: that gels its surface.
        leak: light through black, of that through clear film. spread_um: standard deviation of the light's spread.

    Source: working curve, depth = Dp·ln(E/Ec), Jacobs (1992).
    """

    thickness_um: float
    over_mesh_um: float
    time_s: float
    full_s: float
    gel_s: float
    leak: float
    spread_um: float

    @property
    def penetration_um(self) -> float:
        """Dp: the depth over which light falls to 1/e."""
        return self.thickness_um / math.log(self.full_s / self.gel_s)

    @property
    def gel_share(self) -> float:
        """Of the light through clear film, what just gels the surface."""
        return self.gel_s / self.time_s

    @property
    def hold_share(self) -> float:
        """Of the light through clear film, what hardens the coat down to the threads, so that it holds on them."""
        return self.gel_share * math.exp(self.over_mesh_um / self.penetration_um)

    @property
    def full_share(self) -> float:
        """Of the light through clear film, what hardens the coat through."""
        return self.full_s / self.time_s

    def edge_um(self, share: float) -> float | None:
        """How far inside the black of a straight edge the light has fallen to a share; negative outside of it.

        None where it has so nowhere: the black lets more through, or clear film less.
        """
        if not self.leak < share < 1:
            return None
        # Light at x inside the black: leak + (1 - leak)·(1 - Φ(x/σ)).
        height = 1 - 2 * (share - self.leak) / (1 - self.leak)
        return float(self.spread_um * math.sqrt(2) * erfinv(height))

    def finest_open_um(self) -> float | None:
        """The narrowest slit in black that does not gel in its middle; None where none opens.

        The middle of a slit of width w has 1 - (1 - leak)·erf(w / (2√2·σ)) of the light.
        """
        if self.gel_share <= self.leak:
            return None
        return slit_with(self.gel_share, self.spread_um, self.leak)

    def finest_held_um(self) -> float | None:
        """The narrowest clear line whose middle hardens down to the threads; None where nothing does."""
        if self.hold_share > 1:
            return None
        # A clear line is to clear film what a slit is to black.
        return slit_with(1 - max(0.0, self.hold_share - self.leak) / (1 - self.leak), self.spread_um)

    def middle_of_slit(self, width_um: float) -> float:
        """Light in the middle of a black slit, of that through clear film."""
        return light_in_slit(width_um, self.spread_um, self.leak)


def exposure(
    *, thickness_um: float, over_mesh_um: float, time_s: float, full_s: float, gel_s: float,
    dmax: float, dmin: float, spread_um: float,
) -> Exposure:  # fmt: skip
    """A checked exposure; black lets 10^-(dmax - dmin) of the light through that clear film does.

    Raises:
        InvalidInput: a value that cannot be, a coat over the mesh as thick as the whole, full cure before the gel.
    """
    for value, what, field in (
        (thickness_um, "The coat, in µm,", "thickness_um"), (time_s, "The time, in s,", "time_s"),
        (full_s, "The time of full cure, in s,", "full_s"), (gel_s, "The time that gels, in s,", "gel_s"),
        (spread_um, "The spread of light, in µm,", "spread_um"),
    ):  # fmt: skip
        require_positive(value, what, field)
    require_between(over_mesh_um, 0, thickness_um, "The coat over the mesh, in µm,", "over_mesh_um")
    for density, field in ((dmax, "dmax"), (dmin, "dmin")):
        require_between(density, 0, 7, "A density", field)
    if full_s <= gel_s:
        raise InvalidInput("Full cure takes longer than the gel.", "full_s")
    if dmax <= dmin:
        raise InvalidInput("Black is denser than clear film.", "dmax")
    leak = 10 ** -(dmax - dmin)
    return Exposure(thickness_um, over_mesh_um, time_s, full_s, gel_s, leak, spread_um)
