"""How a data package of an earlier version is read: each step says what its tables, columns and values are called since.

A package says its version in `datapackage.json` as `schema_version`; one that says none is of version 1.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

CURRENT = 8


@dataclass(frozen=True)
class Upgrade:
    """From one version to the next.

    Attributes:
        tables: new name by old name, of tables that were renamed.
        columns: by new table name, new column name by old one.
        values: by (new table, new column), new value by old one.
        added: by new table, what a column that is new says of the rows that were there.
        new: tables that did not exist.
    """

    tables: Mapping[str, str] = field(default_factory=dict)
    columns: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    values: Mapping[tuple[str, str], Mapping[str, str]] = field(default_factory=dict)
    added: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    new: frozenset[str] = frozenset()

    def old_name(self, table: str) -> str:
        return next((old for old, new in self.tables.items() if new == table), table)


_FILM_COLUMNS = dict.fromkeys(
    ("ruling_lpi", "angle_deg", "dot_shape", "ink", "width_mm", "height_mm", "centre_x_mm", "centre_y_mm"), ""
) | {"turned": "false"}
_COATER_COLUMNS = {"ends": "", "lipped": "false"}
_LAMP_COLUMNS = {"changed_at": "", "changed": ""}

_SETTING_KEYS = {"emulsion.most_pot_l": "emulsion.most_container_l"}

# By the version they begin from.
UPGRADES: Mapping[int, Upgrade] = {
    1: Upgrade(
        tables={
            "people.housestandard": "people.housesetting",
            "people.historicalhousestandard": "people.historicalhousesetting",
            "screens.meshkind": "screens.meshtype",
            "screens.historicalmeshkind": "screens.historicalmeshtype",
            "screens.meshing": "screens.meshinstallation",
            "screens.lifeevent": "screens.screenevent",
            "screens.tensionmeasuring": "screens.tensionmeasurement",
            "screens.savedlook": "screens.savedsearch",
            "films.filmsystem": "films.filmprocess",
            "films.historicalfilmsystem": "films.historicalfilmprocess",
            "films.positive": "films.film",
            "films.historicalpositive": "films.historicalfilm",
            "coatings.potrecord": "coatings.batchrecord",
            "exposures.trial": "exposures.testcomparison",
            "exposures.washout": "stencils.washout",
            "jobs.pressvisit": "press.pressvisit",
            "jobs.pressreport": "press.pressreport",
        },
        columns={
            "screens.cycle": {"meshing_id": "installation_id"},
            "screens.screenevent": {"meshing_id": "installation_id"},
            "screens.screen": {"meshing_id": "installation_id"},
            "screens.blemish": {"meshing_id": "installation_id"},
            "screens.tensionvalue": {"measuring_id": "measurement_id"},
            "films.densityreading": {"system_id": "process_id"},
            "films.film": {"system_id": "process_id"},
            "films.historicalfilm": {"system_id": "process_id"},
            "films.touchup": {"positive_id": "film_id"},
            "films.scancheck": {"positive_id": "film_id"},
            "coatings.batch": {"pot_l": "capacity_l"},
            "coatings.historicalbatch": {"pot_l": "capacity_l"},
            "exposures.steptest": {"film_id": "film_process_id"},
            "exposures.chartentry": {"film_id": "film_process_id"},
            "exposures.run": {"film_id": "film_process_id", "positive_id": "film_id"},
            "exposures.exposure": {"film_id": "film_process_id", "positive_id": "film_id"},
        },
        added={
            "screens.meshtype": {"thread_assumed": "false"},
            "screens.historicalmeshtype": {"thread_assumed": "false"},
            "films.scancheck": {"tries": "0"},
        },
        values={
            ("people.housesetting", "key"): _SETTING_KEYS,
            ("people.historicalhousesetting", "key"): _SETTING_KEYS,
        },
    ),
    2: Upgrade(
        added={
            "films.densityreading": {"setting": ""},
            "films.film": _FILM_COLUMNS,
            "films.historicalfilm": _FILM_COLUMNS,
            "films.touchup": {"kind": "other", "density_before": "", "density_after": ""},
            "coatings.coater": _COATER_COLUMNS,
            "coatings.historicalcoater": _COATER_COLUMNS,
            "coatings.coatingrun": {"ink": ""},
            "coatings.coat": {"ink": ""},
            "exposures.lamp": _LAMP_COLUMNS,
            "exposures.historicallamp": _LAMP_COLUMNS,
            "exposures.steptest": {"factor_film_id": ""},
        },
        new=frozenset({"exposures.chartwithdrawal", "exposures.factorfilm", "exposures.historicalfactorfilm"}),
    ),
    3: Upgrade(
        added={
            "stencils.washout": dict.fromkeys(("side", "pressure", "water_c", "latent", "latent_photo"), ""),
            "press.pressvisit": {"passed_over": "[]", "went_on_because": ""},
        },
        new=frozenset(
            {"stencils.confirmedcause", "press.pressfeedback", "stencils.stencilphoto", "stencils.findingdecision"}
        ),
    ),
    4: Upgrade(
        added={"stencils.washout": {"distance_cm": ""}},
        new=frozenset({"stencils.tappedfault", "jobs.trialnote", "jobs.trialconclusion", "press.printdefect"}),
    ),
    5: Upgrade(
        added={
            "jobs.job": {"press_time": ""},
            "jobs.screenneed": {"position": "0", "colour": "", "film_id": "", "frame_id": "", "beside_id": ""},
        },
        new=frozenset(
            f"jobs.{name}"
            for name in (
                "screenchoice",
                "plannedday",
                "supply",
                "supplyrecord",
                "equipment",
                "handover",
                "handoversignature",
                "upkeepitem",
                "upkeeprecord",
                "loan",
                "loanreturn",
                "refusedwork",
            )
        )
        | {"stencils.stencilproof", "training.drillrun", "training.skillmemory", "training.skillsignature"},
    ),
    6: Upgrade(
        added={
            "stencils.stencilphoto": {"state": "done", "share_done": "1", "doing": "", "refusal": "", "tries": "0"},
        },
    ),
    7: Upgrade(new=frozenset({"jobs.usualhours", "jobs.dayhours"})),
}


def name_in(version: int, table: str) -> str:
    """What a table of today was called in a package of an earlier version."""
    for step in range(CURRENT - 1, version - 1, -1):
        table = UPGRADES[step].old_name(table)
    return table


def is_new_since(version: int, table: str) -> bool:
    """Whether a package of that version cannot hold a table of today."""
    return any(table in UPGRADES[step].new for step in range(version, CURRENT))


def upgraded(version: int, table: str, headings: list[str], rows: list[list[str]]) -> tuple[list[str], list[list[str]]]:
    """Headings and rows of a table as today's version names them.

    Args:
        table: its name today. headings, rows: as they stand in the package.
    """
    for step in range(version, CURRENT):
        upgrade = UPGRADES[step]
        renamed = upgrade.columns.get(table, {})
        headings = [renamed.get(h, h) for h in headings]
        rows = [_with_values(upgrade, table, headings, row) for row in rows]
        added = upgrade.added.get(table, {})
        headings, rows = [*headings, *added], [[*row, *added.values()] for row in rows]
    return headings, rows


def _with_values(upgrade: Upgrade, table: str, headings: list[str], row: list[str]) -> list[str]:
    return [upgrade.values.get((table, h), {}).get(text, text) for h, text in zip(headings, row, strict=False)]
