"""Control chart: single values in their order, the middle, the limits, and those that chance does not explain."""

from frimble.ui.pictures.svg import element, picture, text, tip

_WIDTH, _HEIGHT, _LEFT, _RIGHT, _TOP, _LOW = 1060.0, 270.0, 60.0, 90.0, 20.0, 230.0


def _percent(share: float) -> str:
    return f"{share * 100:.0f} %"


def control_chart(chart, labels, shown=_percent, what="coats against what was expected") -> str:
    """The picture; `chart` has values, centre, low, high, drift and signals; a label each; `shown` says a value in words."""
    values = chart.values
    floor, roof = min(chart.low, *values), max(chart.high, *values)
    room = (roof - floor) * 0.08 or 0.1
    y = lambda v: _LOW - (_LOW - _TOP) * (v - floor + room) / (roof - floor + 2 * room)  # noqa: E731
    x = lambda k: _LEFT + (_WIDTH - _LEFT - _RIGHT) * (k + 0.5) / len(values)  # noqa: E731
    parts = []
    for value, word, name in (
        (chart.high, "upper limit", "chart-limit"),
        (chart.centre, "middle", "chart-middle"),
        (chart.low, "lower limit", "chart-limit"),
    ):
        parts.append(element("path", class_=name, d=f"M{_LEFT} {y(value):.1f}H{_WIDTH - _RIGHT}"))
        parts.append(text(_LEFT - 8, y(value) + 5, shown(value), anchor="end", size=14))
        parts.append(text(_WIDTH - _RIGHT + 6, y(value) + 5, word, "soft", anchor="start", size=14))
    line = "L".join(f"{x(k):.1f} {y(v):.1f}" for k, v in enumerate(values))
    parts.append(element("path", class_="chart-line", d=f"M{line}"))
    drift = "L".join(f"{x(k):.1f} {y(v):.1f}" for k, v in enumerate(chart.drift))
    parts.append(element("path", class_="chart-drift", d=f"M{drift}"))
    odd = {signal.at: signal.words for signal in chart.signals}
    for k, value in enumerate(values):
        said = tip(f"{labels[k]}: {shown(value)}{', ' + odd[k] if k in odd else ''}")
        if k in odd:
            parts.append(element("rect", said, class_="chart-odd", x=x(k) - 6, y=y(value) - 6, width=12, height=12))
        else:
            parts.append(element("circle", said, class_="chart-dot", cx=x(k), cy=y(value), r=4))
    parts.append(text(_LEFT, _HEIGHT - 8, labels[0], "soft", anchor="start", size=13))
    parts.append(text(_WIDTH - _RIGHT, _HEIGHT - 8, labels[-1], "soft", anchor="end", size=13))
    title = (
        f"{len(values)} {what}: middle {shown(chart.centre)}, limits {shown(chart.low)} to {shown(chart.high)}, "
        f"{len(odd)} beyond chance"
    )
    return picture(_WIDTH, _HEIGHT, title, *parts, class_="control-chart")
