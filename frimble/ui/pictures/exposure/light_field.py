"""Light field: nine or more places under a lamp, darker where they get less, the limit drawn where fine work ends."""

from frimble.ui.pictures.svg import element, picture, text

_CELL, _GAP = 92.0, 3.0


def light_field(field, limit: float) -> str:
    """The field as it lies on the glass, each place with its share of the brightest; those beyond the limit are hatched."""
    parts = []
    for row, shares in enumerate(field.rows):
        for column, share in enumerate(shares):
            x, y = column * (_CELL + _GAP), row * (_CELL + _GAP)
            good = field.usable[row][column]
            box = {"x": x, "y": y, "width": _CELL, "height": _CELL}
            lit = round(max(0.05, (share - field.least * 0.8) / (1 - field.least * 0.8)), 2)
            parts.append(element("rect", class_="field-light" if good else "field-dim", fill_opacity=lit, **box))
            parts.append(element("rect", class_="field-frame", **box))
            parts.append(text(x + _CELL / 2, y + _CELL / 2 + 6, f"{share * 100:.0f} %", "field-share", size=20))
            if not good:
                parts.append(text(x + _CELL / 2, y + _CELL / 2 + 28, "too dim", size=14))
    columns, rows = len(field.rows[0]), len(field.rows)
    title = f"Light over the glass: darkest {field.least * 100:.0f} % of the brightest, limit {100 - limit * 100:.0f} %"
    return picture(columns * (_CELL + _GAP) - _GAP, rows * (_CELL + _GAP) - _GAP, title, *parts, class_="light-field")
