"""A grey scale: one exposure through a scale of known densities, read by the highest step that stands solid."""

from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.core.exposure.steptest import plan as steptest
from frimble.exposures.steptests.kinds.kind import TestKind


def _plan(data, settings, lag_s):
    return steptest.plan_one_exposure(data["guess_s"], grey_scale.factors(), settings, lag_s)


KIND = TestKind("grey", "grey scale", dict, _plan, by_factors=True, by_solid_step=True)
