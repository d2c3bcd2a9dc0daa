"""Day plans against two dispatch rules, on made-up days: weighted minutes late, the second goal, and what is proven.

    python -m bench.day_plans [--days 12] [--seconds 20] [--first 1000] [--screens N] [--laws usual|shifts] [--best]

Ratios are of whole sums, so that a day without lateness weighs nothing. With `--best` every day is planned a second time
in six times the seconds, as the best plan known.
"""

import argparse

from bench.other import days, shift_days
from frimble.core.planning.dayplan import cost, ends_of
from frimble.core.planning.planning import plan_day
from frimble.core.planning.reading import read_day
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.search.dispatch import by_due_time, by_slack, dispatched
from frimble.core.planning.search.occupied import Room

_LONGER = 6
_LAWS = {"usual": days.day, "shifts": shift_days.day}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--days", type=int, default=12)
    parser.add_argument("--seconds", type=float, default=20)
    parser.add_argument("--first", type=int, default=1000)
    parser.add_argument("--screens", type=int)
    parser.add_argument(
        "--laws", choices=_LAWS, default="usual", help="which made-up rooms; shifts are kept out of tuning"
    )
    parser.add_argument("--best", action="store_true")
    options = parser.parse_args()
    rows = [_row(seed, options) for seed in range(options.first, options.first + options.days)]
    _summary("best of two rules", [(r["rules"], r["plan"]) for r in rows])
    if options.best:
        _summary("best known", [(r["best"], r["plan"]) for r in rows])
    proven = sum(r["proven"] for r in rows)
    print(
        f"late proven least on {proven} of {len(rows)} days; first plan in {max(r['first_s'] for r in rows):.2f} s at most"
    )


def _row(seed, options) -> dict:
    day = read_day(_LAWS[options.laws](seed, options.screens))
    room = Room(day)
    rules = min(cost(day, ends_of(dispatched(room, rule))) for rule in (by_due_time, by_slack))
    first = plan_day(day, 0)
    plan = plan_day(day, options.seconds)
    broken = broken_rules(day, plan.tasks)
    row = {"rules": rules, "plan": plan.cost, "proven": plan.late_proven, "first_s": first.seconds}
    if options.best:
        longer = plan_day(day, options.seconds * _LONGER, seed=1)
        row["best"] = min(plan.cost, longer.cost)
    known = f" best known {row['best'].late:g}/{row['best'].sum_of_ends}" if options.best else ""
    print(
        f"{seed}: {len(day.screens)} screens, rules {rules.late:g}/{rules.sum_of_ends}, plan {plan.cost.late:g}/"
        f"{plan.cost.sum_of_ends}, bound {plan.bound:g}/{plan.bound_sum},{known} {plan.status}, {plan.seconds:.1f} s,"
        f" rules broken {len(broken)}",
        flush=True,
    )
    return row


def _summary(name, pairs) -> None:
    late = [(a.late, b.late) for a, b in pairs]
    worse = [b / a - 1 for a, b in late if a > 0]
    ends = [b.sum_of_ends / a.sum_of_ends - 1 for a, b in pairs]
    mean = sum(worse) / len(worse) if worse else 0.0
    print(f"against the {name}: lateness {mean:+.1%} on average over {len(worse)} days with any,")
    print(f"  sum of ends {sum(ends) / len(ends):+.1%}")
    print(f"  never worse: {all(not a < b for a, b in pairs)}")


if __name__ == "__main__":
    main()
