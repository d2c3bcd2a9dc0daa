"""House settings: every limit, default and school the core uses, in one register.

Marks: P published source, C common practice without a source, M from memory and to be confirmed by the shop.
The shop may change any value; functions of the core receive a `HouseSettings` and never repeat a number of their own.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from frimble.core.conclusions import InvalidInput
from frimble.core.mesh.practice import CUSTOMS, setting_key
from frimble.core.numbers import read_number


@dataclass(frozen=True)
class Setting:
    """One house setting.

    `choices` maps each allowed word to what it means and makes the setting a choice of schools; `read` takes words and
    says what is wrong with them; otherwise the value is a number in `unit` between `low` and `high`.
    """

    key: str
    label: str
    default: float | str
    unit: str
    mark: str
    reason: str
    low: float = 0
    high: float = 1e6
    choices: Mapping[str, str] | None = None
    read: Callable[[str], str] | None = None

    @property
    def group(self) -> str:
        return self.key.split(".")[0]

    def parse(self, raw: str) -> float | str:
        """Read a typed value; InvalidInput says what is accepted."""
        text = str(raw).strip()
        if self.choices is not None:
            if text not in self.choices:
                raise InvalidInput(f"{self.label}: choose one of {', '.join(self.choices)}.", "value")
            return text
        if self.read is not None:
            return self.read(text)
        try:
            number = read_number(text)
        except InvalidInput as error:
            raise InvalidInput(f"{self.label}: {error}", "value") from None
        if not self.low <= number <= self.high:
            raise InvalidInput(
                f"{self.label} must be between {self.low:g} and {self.high:g} {self.unit}".rstrip()
                + f"; {number:g} was given.",
                "value",
            )
        return number

    def shown(self, value: float | str) -> str:
        """A value as a page shows it: the words of a choice, or the number with its unit."""
        if self.choices is not None:
            return self.choices[str(value)]
        if self.read is not None:
            return str(value)
        return f"{value:g} {self.unit}".rstrip()


# Title of each group of settings, in the order of the page; a key begins with its group.
GROUPS = {
    "room": "The room",
    "mesh": "Mesh",
    "meshuse": "Mesh by use",
    "halftone": "Halftone",
    "moire": "Moiré",
    "film": "Film",
    "placement": "Placing films",
    "frame": "Frames",
    "tension": "Tension",
    "degrease": "Degreasing",
    "emulsion": "Emulsion",
    "coat": "Coating",
    "coater": "Coaters",
    "dry": "Drying",
    "steptest": "Step test",
    "exposure": "Exposure",
    "lamp": "Lamps",
    "target": "Step-test film",
    "photo": "Photos of tests",
    "greyscale": "Grey scale",
    "drift": "Control strips",
    "wash": "Washout",
    "reclaim": "Reclaim",
    "life": "Life of meshes",
    "press": "Press",
    "storage": "Rack",
    "day": "The day",
    "cost": "Cost",
    "training": "Training",
    "backup": "Backups",
}

MARKS = {"P": "published source", "C": "common practice, no source", "M": "from memory, to be confirmed here"}


def _number(
    key: str, label: str, default: float, unit: str, mark: str, reason: str, low: float = 0.0, high: float = 1e6
) -> Setting:
    return Setting(key, label, default, unit, mark, reason, low, high)


def _school(key: str, label: str, default: str, mark: str, reason: str, choices: Mapping[str, str]) -> Setting:
    return Setting(key, label, default, "", mark, reason, choices=choices)


def _time_zone(text: str) -> str:
    try:
        ZoneInfo(text)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise InvalidInput(f"There is no time zone “{text[:60]}”: type it such as Europe/Lisbon.", "value") from None
    return text


def _folder(text: str) -> str:
    if text and not text.startswith("/"):
        raise InvalidInput("Type the whole path, from / on, or nothing.", "value")
    return text


_ALL: tuple[Setting, ...] = (
    _number("backup.every_h", "A backup by the clock, every", 1, "h", "C",
            "At most so much work is lost with the disk; 0 makes none.", 0, 168),
    _number("backup.keep_hourly", "Backups kept of the last hours", 24, "", "C", "A slip is seen the same day.", 1, 240),
    _number("backup.keep_daily", "of the last days", 14, "", "C", "Damage is seen within a fortnight.", 1, 400),
    _number("backup.keep_weekly", "of the last weeks", 8, "", "C", "What was seen late is still there.", 0, 520),
    Setting("backup.second_folder", "Copied also to the folder", "", "", "C",
            "On another disk or machine: one that breaks takes all its backups with it. Empty for none.", read=_folder),
    Setting("room.time_zone", "Time zone", "UTC", "", "C", "Moments are kept in UTC and shown by the room's own clock.",
            read=_time_zone),
    _school("room.paper", "Paper", "a4", "C", "What labels, plans and handbook are laid out for.",
            {"a4": "A4", "letter": "Letter"}),
    _school("room.units", "Units for new people", "metric", "C", "Each person may choose others.",
            {"metric": "per cm, mm", "inch": "per inch, in"}),
    _school("room.decimal", "Numbers are shown with", "point", "C", "Typed with either, they are understood.",
            {"point": "a decimal point", "comma": "a decimal comma"}),
    _number("room.idle_h", "Signed out when nothing was done for", 12, "h", "C",
            "A working day; who walks away for the night is not signed in next morning.", 0.25, 72),
    _number("room.tablet_idle_days", "A registered tablet, for", 30, "days", "C",
            "It hangs in the room, and each record at a shared one is signed anyway.", 1, 365),
    _number("mesh.fabric_thickness_factor", "Fabric thickness over thread diameter, where not measured", 1.6, "× d",
            "M", "Weaving flattens the crossing of two threads below 2 d.", 1, 2.2),
    _number("mesh.per_inch_above", "A bare mesh number above this is per inch", 200, "threads", "C",
            "No common mesh has more threads per cm.", 100, 400),
    _number("mesh.highest_per_cm", "Highest mesh count taken as real", 250, "/cm", "M",
            "A count beyond this is a slip of the hand.", 100, 400),
    _number("mesh.ask_below", "A bare mesh number below this is asked about", 40, "threads", "M",
            "Coarse mesh is sold by both units side by side.", 0, 100),
    _number("halftone.mesh_over_ruling", "Mesh count over halftone ruling, same unit", 5, "×", "C",
            "Schools run from 3.5 to 6; below it threads and dots beat and small dots fall through.", 2, 10),
    _number("halftone.least_factor", "Least mesh over ruling any school works with", 3.5, "×", "C",
            "Coarser mesh gives more ink and more beats.", 2, 10),
    _number("halftone.most_factor", "Most mesh over ruling any school asks", 6, "×", "C",
            "Finer mesh holds smaller dots and lays less ink.", 2, 12),
    _number("halftone.highest_lpi", "Highest ruling believed", 200, "lines/in", "M",
            "Finer is a slip of the hand.", 60, 400),
    _number("mesh.particle_factor", "Opening over the largest particle", 3, "×", "C",
            "Particles bridge and block a tighter opening.", 1, 10),
    _number("moire.visible_above", "A beat shows when longer than this many dot pitches", 3, "dots", "M",
            "Shorter beats look like the dots themselves.", 1, 20),
    _number("moire.orders", "Orders of the two grids combined", 3, "orders", "C",
            "Higher orders are too weak to see.", 1, 5),
    _number("halftone.thermal_over_ruling", "Thermal film mesh over the ruling, at least", 2.3, "×", "C",
            "85 lines on 200.", 1, 10),
    _number("mesh.soft_finer", "For a softer hand a mesh finer than the coarsest that serves by", 1.4, "×", "M",
            "Less ink, still open enough to print; never the finest there is.", 1, 3),
    _school("mesh.school", "Choose mesh for", "opacity", "C",
            "Coarse for opacity in one pass, against finer for a softer hand, a faster flash, less ink and emulsion.",
            {"opacity": "opacity in one pass", "soft": "softer hand, less ink"}),
    _number("film.least_core_density", "Black above clear film, at least", 2.5, "D", "P",
            "ISO 12647-2 (limit recalled from memory).", 0.5, 5),
    _number("film.most_clear_density", "Clear film, at most", 0.15, "D", "P",
            "ISO 12647-2 (limit recalled from memory).", 0.01, 1),
    _number("film.meter_least", "Least light a meter tells, in the meter's unit", 0.01, "", "M",
            "Under black it may read 0: then the film holds at least what lies above this.", 0.0001, 1),
    _number("film.highest_density", "Highest density believed", 6, "D", "M", "No film or meter reaches further.", 3, 10),
    _number("film.headroom_wanted", "Time to leak over working time, at least", 4, "×", "M",
            "Room for a longer time, an older film and a brighter lamp.", 1, 100),
    _number("film.render_dpi", "Artwork rendered for a check at", 600, "dpi", "C", "Usual film printers.", 100, 2400),
    _number("film.least_dpi", "Lowest resolution of a scan", 150, "dpi", "M", "Coarser shows no pinhole.", 50, 600),
    _number("film.most_dpi", "Highest resolution believed", 4800, "dpi", "M", "Finer is a slip of the hand.", 1200, 20000),
    _number("film.most_megapixels", "Largest scan", 300, "million pixels", "M",
            "A2 at 600 dpi; larger would fill the server's memory.", 10, 1000),
    _number("film.least_line_mm", "Thinnest line or gap on a film", 0.25, "mm", "M",
            "Thinner breaks up on ordinary mesh; the chosen mesh may ask more.", 0.02, 2),
    _number("film.least_sans_pt", "Smallest type without serifs", 8, "pt", "C", "8–9 pt.", 1, 72),
    _number("film.least_serif_pt", "Smallest type with serifs", 11, "pt", "C", "11–12 pt: hairlines break first.", 1, 72),
    _number("film.least_pinhole_mm", "Smallest pinhole that counts", 0.08, "mm", "M",
            "Smaller closes in the emulsion.", 0.02, 1),
    _number("press.off_contact_mm", "Off-contact to begin with", 2, "mm", "C", "1.5–3 usual.", 0.2, 20),
    _number("press.long_run", "A run is long from", 1000, "prints", "M", "Shorter ones seldom wear a stencil.", 50, 1e6),
    _number("press.most_off_contact_mm", "Most off-contact", 3.2, "mm", "C", "About 1/8 in, for thick white.", 0.5, 30),
    _number("placement.profile_mm", "Width of a frame's side", 40, "mm", "M", "Usual aluminium profile.", 5, 150),
    _number("placement.ink_margin_mm", "Image from the frame's outer end, at least", 115, "mm", "C",
            "100–125 mm for ink and squeegee travel.", 20, 400),
    _number("placement.side_margin_mm", "Image from the frame's inner side, at least", 40, "mm", "M",
            "Mesh near the frame lifts unevenly.", 0, 200),
    _number("placement.squeegee_over_mm", "Squeegee over the image on each side", 15, "mm", "C",
            "A little wider than the image.", 0, 100),
    _number("placement.stroke_over_mm", "Squeegee stroke beyond the image at each end", 40, "mm", "M",
            "Room to flood, to land and to lift.", 0, 200),
    _number("placement.time_ratio", "Longest over shortest exposure of images on one screen", 1.15, "×", "M",
            "Beyond it one of them leaves its window.", 1, 3),
    _number("placement.gap_mm", "Between images on one screen", 30, "mm", "M", "Room for tape.", 0, 200),
    _number("placement.overlap_mm", "Tiled films overlap by", 15, "mm", "M", "Room for tape beside the detail.", 2, 100),
    _number("placement.mark_off_mm", "Register marks off the image", 10, "mm", "M", "Clear of the print.", 3, 100),
    _number("frame.least_mm", "Shortest frame side believed", 100, "mm", "M", "Smaller is a slip of the hand.", 10, 1000),
    _number("frame.most_mm", "Longest frame side believed", 4000, "mm", "M",
            "Larger is a slip of the hand.", 500, 20000),
    _number("tension.poor_below", "Tension below this is poor for opaque work", 20, "N/cm", "C",
            "The print sinks into the goods and wants an extra flash and pass.", 5, 60),
    _number("tension.poor_wood", "On stapled wood poor below", 14, "N/cm", "M",
            "Wood bends and staples give: it is printed with what it holds.", 3, 60),
    _number("tension.poor_retension", "On a frame that can be re-tensioned poor below", 22, "N/cm", "M",
            "There it is mended in minutes.", 5, 60),
    _number("tension.good_from", "Good tension from", 22, "N/cm", "C", "Usual band for everyday work.", 5, 60),
    _number("tension.best_from", "Best tension from", 25, "N/cm", "C", "Clean snap-off, least ink.", 5, 60),
    _number("tension.best_to", "Best tension up to", 28, "N/cm", "C",
            "Above it mesh and frame suffer on ordinary cloth.", 5, 60),
    _number("tension.match_within", "Screens of one job match within ±", 2, "N/cm", "M",
            "Unlike screens stretch unlike: register drifts.", 0.5, 10),
    _number("tension.spread_within", "Warp and weft of one screen within", 3, "N/cm", "M",
            "A larger difference turns or skews the image.", 0.5, 15),
    _number("tension.place_within", "A place is slack when it is below the mean by more than", 0.2, "of 1", "M",
            "There the print sinks in and the image walks, whatever the mean.", 0.02, 0.9),
    _number("tension.highest", "Highest believable reading", 60, "N/cm", "M",
            "No screen-room mesh holds more; 240 is 24.0 with the point lost.", 30, 120),
    _number("tension.readings_at_least", "Readings wanted at each place", 2, "readings", "C",
            "A second reading shows a slip of the gauge.", 1, 5),
    _number("tension.fresh", "Tension of a freshly stretched mesh", 26, "N/cm", "M",
            "Stretched to 25–28; the shop's own meshes take over.", 5, 60),
    _number("tension.fresh_sd", "Fresh tensions differ by (sigma)", 3, "N/cm", "M", "Hands and cloths differ.", 0.1, 20),
    _number("tension.loss_log", "Loss each time the days grow 2.7-fold", 0.5, "N/cm", "M",
            "Fast at first, then with log time.", 0, 10),
    _number("tension.loss_cycle", "Loss for each cycle", 0.05, "N/cm", "M", "Squeegee and pressure rinse.", 0, 2),
    _number("tension.settle_days", "Days in which a mesh settles", 1, "days", "M", "The τ of the loss.", 0.05, 30),
    _number("tension.noise", "A measurement repeats within (sigma)", 0.5, "N/cm", "M",
            "Ten presses at five places.", 0.05, 5),
    _number("tension.screens_differ", "Screens of one mesh differ in their loss by", 0.4, "of 1", "M",
            "Frames, hands and places differ.", 0, 3),
    _number("tension.pace_days", "A young mesh borrows the pace of its kind for so long", 30, "days", "M",
            "A week of use tells little of a year.", 1, 365),
    _number("tension.pace_differs", "Meshes of a kind differ in their pace of use by, as a logarithm", 0.5, "ln", "M",
            "Some lie in the rack, some are always asked for.", 0.01, 3),
    _number("tension.horizon_days", "Tension is predicted for", 540, "days", "M", "Beyond it nothing was seen.", 30, 3000),
    _number("tension.far_from_last", "A measurement is asked again when off the last by", 4, "N/cm", "M",
            "A slip of the hand, or news.", 0.5, 30),
    _number("tension.check_cycles", "Tension is due again after", 5, "cycles", "M", "Use tells more than days.", 1, 100),
    _number("tension.recheck_days", "Measure tension again after", 30, "days", "M",
            "Mesh goes on losing tension with time, heat and use.", 1, 365),
    _number("degrease.dwell_s", "Degreaser dwell", 30, "s", "C", "20–30 s lets it lift skin grease.", 5, 300),
    _number("degrease.longest_s", "Longest degreaser dwell believed", 900, "s", "M",
            "Longer is a slip of the hand.", 30, 7200),
    _number("degrease.dry_min", "Bare mesh dries before a fan in", 10, "min", "C",
            "Water left in the mesh thins the coat.", 1, 240),
    _number("emulsion.life_diazo_days", "Mixed diazo lives at room temperature", 35, "days", "M",
            "4–6 weeks.", 1, 400),
    _number("emulsion.life_dual_days", "Mixed dual-cure lives at room temperature", 45, "days", "M",
            "1–2 months.", 1, 400),
    _number("emulsion.life_photopolymer_days", "Photopolymer lives at room temperature", 365, "days", "M",
            "Ready-sensitised; a year or more.", 1, 1500),
    _number("emulsion.room_c", "Room temperature those lives are stated at", 20, "°C", "M",
            "Reference for the rule of ten degrees.", 10, 30),
    _number("emulsion.q10", "Life shortens per +10 °C by", 2, "×", "M", "Usual for slow chemical ageing.", 1.2, 4),
    _number("emulsion.ageing_share", "Ageing from this share of life", 0.8, "of life", "M",
            "Near its end a batch moves the exposure: test again.", 0.3, 1),
    _number("emulsion.warm_up_min", "Emulsion from the cold stands before coating", 15, "min", "C",
            "Cold it is thick, and sweats.", 1, 240),
    _number("emulsion.cold_below_c", "Kept cold is below", 15, "°C", "M", "A refrigerator or a cool cellar.", 0, 25),
    _number("emulsion.most_container_l", "Largest container believed", 60, "l", "M", "A slip of the hand.", 1, 1000),
    _number("emulsion.least_ratio", "Least emulsion to one of sensitiser believed", 2, "parts", "M", "10 is usual.", 1, 50),
    _number("emulsion.most_ratio", "Most emulsion to one of sensitiser believed", 60, "parts", "M", "10 is usual.", 5, 500),
    _number("emulsion.coldest_c", "Coldest store believed", -5, "°C", "M", "Frozen emulsion is spoiled.", -30, 10),
    _number("emulsion.hottest_c", "Hottest store believed", 50, "°C", "M", "Nobody keeps emulsion hotter.", 20, 80),
    _school("coat.first_side", "First stroke", "P", "C",
            "Schools differ; what matters is that it is the same each time.",
            {"P": "print side first", "S": "squeegee side first"}),
    _school("coat.last_wet_side", "Last wet stroke", "S", "C",
            "From the squeegee side it pushes the coat to the print side, where the stencil should stand.",
            {"S": "squeegee side last", "P": "print side last", "any": "either"}),
    _school("coat.fill", "Coater filled", "half", "C",
            "Fill changes the coat, so it is kept the same each time.",
            {"quarter": "a quarter", "half": "a half", "two-thirds": "two-thirds", "full": "full"}),
    _number("coat.most_strokes", "Most strokes believable in one wet layer", 6, "strokes", "M",
            "More runs and sags.", 2, 20),
    _number("coat.longest_wait_s", "Longest wet wait believed", 600, "s", "M",
            "Longer and the coat has begun to dry.", 30, 7200),
    _number("coat.keeps_days", "Coated screens keep in the dark", 28, "days", "M",
            "Older coats wash out badly or not at all.", 1, 200),
    _number("coat.eom_share", "Ordinary emulsion over mesh, of the fabric's thickness", 0.15, "of it", "M", "10–20 %.",
            0.01, 2),
    _number("coat.thin_share", "Emulsion over mesh is thin below, of the fabric", 0.1, "of it", "M", "Halftone.", 0, 1),
    _number("coat.ordinary_share", "Ordinary up to, of the fabric", 0.2, "of it", "M", "10–20 %.", 0.01, 2),
    _number("coat.thick_um", "Thick from", 40, "µm", "M", "40–80 µm and more for thick white.", 5, 500),
    _number("coat.even_within_um", "Readings of an even coat lie within", 10, "µm", "M", "More shows in the print.", 1, 200),
    _number("coat.round_edge", "Round edge lays more, as a logarithm", 0.34, "ln", "M", "Some 1.4 times a sharp one.", 0, 2),
    _number("coat.layer_adds", "A layer after drying adds, as a logarithm", 0.22, "ln", "M", "Some a quarter.", 0, 2),
    _number("coat.eom_scatter", "Coats of one kind differ by, as a logarithm", 0.12, "ln", "M",
            "What hand, fill, speed and age do not explain.", 0.01, 2),
    _number("coat.gauge_um", "A thickness gauge tells an emulsion over mesh to", 1, "µm", "M",
            "The difference of two means; of a thin coat that is much.", 0.1, 20),
    _number("coat.need_spread", "Emulsion for a run is uncertain by a factor of", 1.4, "×", "M", "Hands and fill.", 1.05, 4),
    _number("coat.tell_after", "A person's coats tell something from", 8, "coats", "M", "Fewer are chance.", 2, 100),
    _number("coat.past_image_mm", "Emulsion reaches past the image by", 60, "mm", "C", "Room for tape.", 5, 300),
    _number("coat.print_share", "Of the emulsion over mesh, on the print side after a last squeegee-side stroke", 0.8,
            "of it", "M", "It is pushed through, and dries print side down.", 0.5, 1),
    _number("coat.penetration_um", "Light falls to 1/e within so much coat", 90, "µm", "M",
            "exp(H / Dp) is about 5 for an ordinary coat; 20 µm more take a quarter longer.", 5, 500),
    _number("coater.trough_mm2", "A full coater's trough, in section", 1400, "mm²", "M", "Some 35 by 40 mm.", 100, 10000),
    _number("coater.clear_mm", "A coater stays off the frame joint by", 15, "mm", "C", "An inch at the start, less aside.",
            0, 100),
    _number("coater.cover_mm", "A coater covers past the image each side by", 20, "mm", "C", "The edge of a coat is thick.",
            0, 200),
    _number("coater.least_mm", "Shortest coater believed", 50, "mm", "M", "A slip of the hand.", 10, 300),
    _number("coater.most_mm", "Longest coater believed", 2500, "mm", "M", "A slip of the hand.", 500, 10000),
    _number("coater.check_days", "Look along a coater's edge again after", 14, "days", "M",
            "Chips and dried emulsion come unseen.", 1, 365),
    _number("coat.shortest_stroke_s", "Shortest coating stroke believed", 1, "s", "M",
            "Quicker is a slip of the hand.", 0.1, 30),
    _number("coat.longest_stroke_s", "Longest coating stroke believed", 120, "s", "M",
            "Slower is a slip of the hand.", 10, 600),
    _number("coat.solids", "Solids of an emulsion that is not named", 0.4, "of 1", "M", "Usual 35–45 %.", 0.1, 0.9),
    _number("exposure.widest_told", "An estimate is shown while its ends differ by no more than", 4, "×", "M",
            "Wider is no time to expose by: it says where to begin a test.", 1.5, 20),
    _number("exposure.least_inside", "An estimate is shown when its time lies in the window at least", 0.6, "of 1", "M",
            "More often right than not, and a screen costs an hour.", 0, 1),
    _number("exposure.far_off", "An accepted time is asked again when off its prediction's ends by", 1.5, "×", "M",
            "A slip of the reading would teach the whole chart.", 1, 10),
    _number("exposure.yellow_factor", "Yellow mesh takes longer than white by", 1.6, "×", "M", "1.3–2.", 1, 4),
    _number("dry.cabinet_c", "Cabinet temperature where none is typed", 34, "°C", "C", "30–40 °C.", 10, 45),
    _number("dry.cabinet_rh", "Cabinet humidity where none is typed", 0.45, "of 1", "C", "Below 0.40–0.50.", 0, 1),
    _number("dry.hottest_c", "Hottest cabinet for a live coat", 40, "°C", "C",
            "Heat itself begins to harden and fog the coat.", 30, 60),
    _number("dry.highest_c", "Highest air temperature believed", 60, "°C", "M", "No drying room is hotter.", 40, 100),
    _number("dry.least_deficit_pa", "Air that takes up no water: deficit below", 50, "Pa", "M",
            "So near saturation a drying time would be a guess.", 1, 500),
    _number("dry.damp_rh", "Too damp to dry a coat above", 0.5, "of 1", "C",
            "Wet inside, dry outside: image and stencil wash off together.", 0.2, 1),
    _number("dry.reference_min", "`P1 S1` on 43-80 dries at 35 °C and 40 % humidity in", 60, "min", "C",
            "The prior that every drying time is scaled from.", 5, 600),
    _number("dry.spread", "A shop's drying time may be off common practice by a factor of", 1.5, "×", "M",
            "Air speed and loading are not known to the prior.", 1.05, 4),
    _number("dry.scatter", "Coats of one kind in one air differ by, as a logarithm", 0.12, "ln", "M",
            "Corners, loading and hands.", 0.01, 1),
    _number("dry.fan_step", "A fan one step faster dries sooner, as a logarithm", 0.2, "ln", "M", "Some a fifth.", 0, 1),
    _number("dry.weighings_min", "Two weighings are apart at least", 10, "min", "C", "Sooner tells nothing.", 1, 60),
    _number("dry.meter_percent", "Dry on a moisture meter up to", 4, "%", "M", "As the meter's own card says.", 0.1, 40),
    _number("dry.still_wet", "Of coats that the clock lets go, still wet may be", 0.01, "of 1", "M",
            "Wet inside, image and stencil wash off together.", 0.001, 0.2),
    _number("dry.touch_lag", "The inside is dry later than a fingertip finds the surface, up to", 1.3, "×", "M",
            "A skin forms first; a scale or a meter tells sooner.", 1, 3),
    _number("dry.moved_min", "A drying time is set anew when the air moves it by more than", 3, "min", "M",
            "Less is noise of the hygrometer.", 0.5, 60),
    _number("steptest.least_interval_s", "Shortest time a hand can hold between card moves", 2, "s", "C",
            "Shorter moves are not even and spoil the steps.", 0.5, 20),
    _number("steptest.steps", "Steps in a new test", 8, "steps", "C", "Spans about ±2 times with ratio √2.", 3, 21),
    _number("steptest.suggest_most", "Steps suggested for a test, at most", 12, "steps", "M", "More are narrow.", 5, 21),
    _number("steptest.most_steps", "Most steps on one card", 21, "steps", "C", "Narrower strips cannot be read.",
            5, 40),
    _number("steptest.least_strip_mm", "Narrowest strip that can be read", 12, "mm", "M",
            "Room for a line, a dot and a loupe.", 3, 100),
    _number("steptest.length_mm", "Length of a new test along the card's travel", 240, "mm", "M",
            "Fits the smallest frame here with room for the squeegee margin.", 50, 2000),
    _number("steptest.shortest_s", "Shortest exposure taken as real", 0.5, "s", "M",
            "No shutter here is quicker.", 0.01, 10),
    _number("steptest.loupe_least_um", "Finest detail a loupe shows", 1, "µm", "M",
            "Finer is a slip of the hand.", 0.1, 100),
    _number("steptest.loupe_most_um", "Coarsest detail worth a loupe", 5000, "µm", "M",
            "Coarser is a slip of the hand.", 500, 50000),
    _number("steptest.longest_s", "Longest exposure taken as real", 3600, "s", "C",
            "Times from 10 s to 12 min are known.", 60, 36000),
    _school("steptest.series", "Series of a new test", "sqrt2", "C",
            "Equal ratios put the steps evenly on the scale that light works on.",
            {"sqrt2": "√2, +41 % a step", "cbrt2": "∛2, +26 % a step", "4thrt2": "⁴√2, +19 % a step",
             "arithmetic": "equal seconds"}),
    _school("steptest.card", "Card", "cover", "C",
            "Covering starts from an open screen; uncovering gives strip 1 the whole time and adds strips.",
            {"cover": "covers strip after strip", "uncover": "uncovers strip after strip"}),
    _number("steptest.coarse_above", "Result called coarse beyond ±", 0.15, "of the time", "M",
            "A second, finer test then pays.", 0.02, 1),
    _number("steptest.screens_differ", "Full cure of two screens coated alike differs by", 0.05, "of it", "M",
            "One standard deviation: a hand's coats differ by some 3 µm.", 0, 0.5),
    _number("steptest.wanted_opening_um", "Finest detail wanted, open and standing", 150, "µm", "M",
            "Ordinary textile detail.", 20, 2000),
    _school("exposure.school", "Choose the time by", "middle", "C",
            "Both ends of the window are always shown.",
            {"middle": "middle of what is good", "cure": "cure first", "detail": "detail first, post-harden"}),
    _number("exposure.alert_before_s", "Warn before each card move by", 3, "s", "M",
            "Time for a hand to reach the card.", 1, 15),
    _number("exposure.distance_within", "Lamp distance the same within", 0.01, "of it", "M",
            "One per cent of distance is two of light.", 0, 0.2),
    _number("exposure.longest_lag_s", "Longest start-up lag believed", 60, "s", "M",
            "A slower lamp wants a warm-up behind a shutter.", 1, 600),
    _number("exposure.cure_over_gel", "Full cure over gel time, ordinary coat", 5, "×", "C",
            "exp(H / Dp), 4–6 for an ordinary coat.", 2, 20),
    _number("exposure.stale_days", "Test a calibrated time again after", 180, "days", "M",
            "Lamps fade and seasons change the room.", 7, 1000),
    _number("exposure.season_months", "Seasons are another from", 4, "months", "M",
            "Of warmth and damp; steady control strips clear it.", 1, 6),
    _number("exposure.most_correction", "A calibrated time is corrected by at most", 0.35, "of it", "M",
            "Farther, and a step test is due.", 0.05, 2),
    _number("film.usual_clear", "Clear film where nobody measured it", 0.06, "D", "M", "Ordinary inkjet film.", 0.01, 1),
    _number("exposure.fabric_share", "Light passes the fabric as so much emulsion", 0.6, "of it", "M",
            "A mesh of 24 per cm takes two or three times a middling one's time, not six.", 0.1, 1),
    _number("exposure.scatter", "Full cure of one combination differs from test to test, as a logarithm", 0.07, "ln", "M",
            "Coat, lamp and wash.", 0.01, 1),
    _number("exposure.headroom_scatter", "Time to close over full cure differs, as a logarithm", 0.07, "ln", "M",
            "Contact and film.", 0.01, 1),
    _number("lamp.fading", "Lamps lose light in 1000 h, as a logarithm", 0.15, "ln", "M", "Arc and tubes; LED less.", 0, 2),
    _number("lamp.sun_latitude", "Latitude of the shop, north positive", 50, "°", "M",
            "How high the sun stands, where nobody meters it.", -66, 66),
    _number("lamp.most_hours", "Longest lamp life believed", 60000, "h", "M", "A slip of the hand.", 1000, 1e6),
    _number("lamp.even_within", "A field is even when no place is darker than the brightest by", 0.15, "of it", "M",
            "Half the room of an ordinary window.", 0.02, 0.6),
    _number("lamp.retest_hours", "Test again after lamp hours", 200, "h", "M", "Some three per cent of light.", 10, 20000),
    _number("lamp.wants_map_days", "Map a lamp's field again after", 180, "days", "M", "Dust and ageing tubes.", 7, 2000),
    _number("greyscale.aim", "Solid step wanted on the grey scale", 7, "step", "C", "6–8.", 1, 21),
    _number("greyscale.low", "Solid step good from", 6, "step", "C", "6–8.", 1, 21),
    _number("greyscale.high", "Solid step good to", 8, "step", "C", "6–8.", 1, 21),
    _number("drift.fewest", "Control strips that tell something, at least", 5, "strips", "M", "Fewer are chance.", 2, 50),
    _number("drift.sigma_steps", "Control strips of one light differ by", 0.4, "steps", "M", "Read in whole steps.", 0.1, 3),
    _number("drift.evidence", "A change of the control strips is told when it is likelier than chance by", 400, "×", "M",
            "About one false cry in 500 strips; a whole step is seen within six.", 3, 100000),
    _number("drift.most_change", "A time follows the control strips by at most", 0.3, "of it", "M",
            "More wants a step test.", 0.02, 1),
    _number("target.most_steps", "Most steps on the step-test film", 21, "steps", "M", "Narrower cannot be read.", 3, 21),
    _number("target.least_dpi", "Coarsest printer for the step-test film", 300, "dpi", "M",
            "Coarser draws no line finer than 85 µm.", 150, 600),
    _number("target.most_dpi", "Finest printer for the step-test film", 2880, "dpi", "M", "Finer is a slip of the hand.",
            600, 10000),
    _number("target.most_stretch", "A printer keeps size within", 0.003, "of it", "M", "0.6 mm on 200 mm.", 0, 0.05),
    _number("photo.steps", "Steps that a photo of a test reads best off, at least", 9, "steps", "M",
            "Two short of cure, the knee between, some past it.", 4, 21),
    _number("photo.ratio", "From step to step at most, for a photo,", 1.35, "×", "M", "Coarser blurs the knee.", 1.05, 2),
    _number("photo.most_megapixels", "Largest photo", 60, "million pixels", "M", "12 are enough.", 12, 200),
    _number("photo.most_megabytes", "Largest photo file", 40, "MB", "M", "A phone's JPEG has some 5.", 5, 500),
    _number("photo.least_megapixels", "Smallest photo", 2.5, "million pixels", "M", "Fewer show no patches.", 1, 12),
    _number("wash.soak_s", "Soak before the rinse", 40, "s", "C", "30–45 s; 1–2 min for thick coats.", 5, 600),
    _number("wash.rinse_s", "Rinse of a step test", 90, "s", "M", "Always the same; more washing moves the reading.",
            5, 1800),
    _number("wash.alike_within", "Two washes are alike within", 0.25, "of it", "M", "What a hand keeps.", 0.02, 2),
    _number("wash.longest_s", "Longest soak or rinse believed", 3600, "s", "M", "Longer is a slip of the hand.", 60, 36000),
    _number("wash.most_pinholes", "Most pinholes believed", 200, "pinholes", "M", "More is a failed stencil.", 10, 10000),
    _number("wash.dry_min", "Washed stencil dries in", 25, "min", "M", "20–30 min in the cabinet.", 1, 600),
    _number("exposure.spread_yellow_um", "Light spreads sideways in a coat on yellow thread by", 22, "µm", "M",
            "A standard deviation; yellow takes up what scatters.", 1, 400),
    _number("exposure.spread_white_um", "Light spreads sideways in a coat on white thread by", 35, "µm", "M",
            "A standard deviation; white thread scatters.", 1, 400),
    _number("day.starts_h", "The day starts at", 7, "o'clock", "M", "Hours of the made-up shop.", 0, 23),
    _number("day.ends_h", "The day ends at", 17, "o'clock", "M", "Hours of the made-up shop.", 1, 24),
    _number("day.press_h", "A job without an hour is wanted at press at", 16, "o'clock", "M", "Late in the day.", 0, 24),
    _number("day.degrease_min", "Degreasing takes a pair of hands", 6, "min", "M", "A screen, with the rinse.", 1, 120),
    _number("day.mesh_dry_min", "Degreased mesh dries in", 15, "min", "M", "10–20 min in the cabinet.", 1, 600),
    _number("day.coat_min", "Coating takes a pair of hands", 3, "min", "M", "2–4 min a layer.", 1, 120),
    _number("day.coat_dry_min", "A layer dries in, where nothing better is known", 75, "min", "M", "60–90 min.", 5, 2000),
    _number("day.expose_min", "Exposing takes a pair of hands and the lamp", 5, "min", "M", "Light and vacuum.", 1, 240),
    _number("day.wash_min", "Soak and rinse take a pair of hands and the booth", 7, "min", "M", "5–8 min.", 1, 120),
    _number("day.wash_within_min", "Washed after its light within", 30, "min", "C",
            "Light's work goes on a little in the dark, and nobody forgets it so.", 1, 1440),
    _number("day.finish_min", "Inspecting and taping take a pair of hands", 3, "min", "M", "A clean stencil.", 1, 120),
    _number("day.reclaim_min", "Reclaiming takes a pair of hands and the booth", 8, "min", "M",
            "5–10 min with the remover's dwell.", 1, 120),
    _number("day.film_min", "A film takes a pair of hands and the printer", 10, "min", "M", "Printed, looked at.", 1, 240),
    _number("day.change_min", "A screen is moved in a running plan if that saves so many minutes late", 15, "min", "M",
            "People go by the plan: what is moved for little is done twice.", 0, 1440),
    _number("day.sinks", "Sinks for degreasing", 1, "places", "M", "As many as there are.", 1, 20),
    _number("day.booths", "Washout booths", 1, "places", "M", "As many as there are.", 1, 20),
    _number("day.cabinet_places", "Places in the drying cabinet", 12, "places", "M", "As many as there are.", 1, 500),
    _school("training.before_recording", "A step is recorded by", "all", "C",
            "Each room decides whom it trusts with a screen.",
            {"all": "whoever may record", "signed": "those whose skills a lead has signed"}),
    _number("training.fades_days", "Reminded of a drill after not doing a step for", 90, "days", "M",
            "Skill fades when it is not daily work.", 7, 730),
    _number("cost.mesh_m2", "A square metre of mesh costs; 0 where not known", 0, "money", "M", "The shop's own.", 0, 10000),
    _number("cost.mesh_cycles", "A mesh lasts about", 40, "cycles", "M", "Until it is slack or torn.", 1, 1000),
    _number("cost.reclaim_goods", "Removers of one reclaim cost; 0 where not known", 0, "money", "M",
            "The shop's own.", 0, 1000),
    _number("cost.ink_l", "A litre of ink costs; 0 where not known", 0, "money", "M", "The shop's own.", 0, 10000),
    _number("cost.ink_share", "Of an image's box ink covers about", 0.5, "of 1", "M", "Flat areas more, halftone less.",
            0.01, 1),
    _number("reclaim.dwell_s", "Emulsion remover dwell", 30, "s", "C", "Never let it dry.", 5, 300),
    _number("reclaim.ink_sprays", "Ink remover", 4, "sprays", "C", "About 4, own pad.", 1, 50),
    _number("reclaim.emulsion_sprays", "Emulsion remover", 11, "sprays", "C", "10–12, own pad.", 1, 50),
    _number("reclaim.haze_dwell_s", "Haze remover dwell", 120, "s", "M", "As its label says.", 5, 1800),
    _number("reclaim.old_days", "A stencil is old after", 60, "days", "M", "Long-stored stencils are slow.", 1, 2000),
    _number("life.soon_days", "A crossing of the tension limit is soon within", 60, "days", "M", "Time to plan.", 1, 400),
    _number("life.fewest_deaths", "Lives are told from ended meshes, at least", 3, "meshes", "M",
            "Fewer tell nothing.", 1, 50),
    _number("life.minute_costs", "A minute of hands costs", 0.6, "money", "M", "The shop's own.", 0, 100),
    _number("life.prepare_min", "Degreasing and coating a screen takes hands", 15, "min", "M", "The shop's own.", 1, 480),
    _number("life.expose_min", "Placing its film and exposing it takes hands", 8, "min", "M", "The shop's own.", 1, 480),
    _number("life.wash_min", "Washing it out and inspecting it takes hands", 10, "min", "M", "The shop's own.", 1, 480),
    _number("life.reclaim_min", "Reclaiming it takes hands", 15, "min", "M", "The shop's own.", 1, 480),
    _number("life.film_min", "Making a film again takes hands", 12, "min", "M", "The shop's own.", 1, 480),
    _number("life.stretch_min", "New mesh on a frame takes hands", 30, "min", "M", "The shop's own.", 1, 480),
    _number("life.slot_day_costs", "A slot and its screen cost a day", 0.05, "money", "M", "The shop's own.", 0, 100),
    _number("life.plenty", "Plenty is, of slots or screens,", 5, "free", "M", "With fewer free each costs more.", 1, 100),
    _number("life.longest_kept_days", "Longest a stencil is kept", 365, "days", "M", "Older ones lock in.", 7, 4000),
    _number("reclaim.most_rounds", "Most rounds of remover believed", 12, "rounds", "M",
            "More is a slip of the hand.", 2, 100),
    _number("reclaim.longest_min", "Longest reclaim believed", 240, "min", "M", "Longer is a slip of the hand.", 10, 2000),
    _number("press.opaque_um", "An opaque white wants wet ink of about", 110, "µm", "M",
            "Two passes through 43-80; learned from what the press says.", 10, 1000),
    _number("press.most_impressions", "Most impressions believed in one run", 500000, "prints", "M",
            "More is a slip of the hand.", 100, 1e7),
    _number("storage.clearance_mm", "Slot wider than the frame by", 5, "mm", "M",
            "A frame that scrapes tears its neighbour.", 0, 100),
)  # fmt: skip

_ALL += tuple(
    _number(
        setting_key(aspect, name, end),
        f"{custom.words[0].upper()}{custom.words[1:]}: {words}",
        getattr(custom, end),
        "threads/in",
        custom.mark,
        custom.reason,
        5,
        600,
    )
    for aspect, names in CUSTOMS.items()
    for name, custom in names.items()
    for end, words in (("least", "coarsest"), ("most", "finest"))
)
REGISTER: Mapping[str, Setting] = {s.key: s for s in _ALL}


class HouseSettings(Mapping[str, Any]):
    """The values in force: the register's defaults with the shop's own changes laid over them."""

    def __init__(self, changed: Mapping[str, float | str] | None = None):
        self._changed = dict(changed or {})
        unknown = set(self._changed) - set(REGISTER)
        if unknown:
            raise InvalidInput(f"No house setting is called {sorted(unknown)[0]}.", "key")

    @property
    def changes(self) -> Mapping[str, float | str]:
        """What differs from the register: two shops with the same changes have the same settings."""
        return self._changed

    def __getitem__(self, key: str) -> float | str:
        return self._changed[key] if key in self._changed else REGISTER[key].default

    def __iter__(self) -> Iterator[str]:
        return iter(REGISTER)

    def __len__(self) -> int:
        return len(REGISTER)
