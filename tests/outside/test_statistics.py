"""A skill's statistics against SciPy (t and χ² intervals) and statsmodels (ordinary least squares): general reference
libraries.
"""

from __future__ import annotations

import numpy as np
import pytest
import statsmodels.api as sm
from scipy import stats

from aspectum.core.practice.record import standing, trend


@pytest.mark.parametrize("n", [5, 8, 30, 400])
def test_intervals_are_scipys(n: int) -> None:
    errors = np.random.default_rng(n).normal(-2.0, 3.0, n)
    found = standing(errors)
    assert found.bias is not None and found.spread is not None
    mean, sd = errors.mean(), errors.std(ddof=1)
    assert (found.bias.low, found.bias.high) == pytest.approx(
        stats.t.interval(0.95, n - 1, mean, sd / np.sqrt(n)), rel=1e-9
    )
    chi = stats.chi2(n - 1).ppf([0.975, 0.025])
    assert (found.spread.low, found.spread.high) == pytest.approx(tuple(sd * np.sqrt((n - 1) / chi)), rel=1e-9)


@pytest.mark.parametrize("n", [5, 17, 200])
def test_the_trend_is_statsmodels(n: int) -> None:
    rng = np.random.default_rng(n)
    days = 20000.0 + np.sort(rng.uniform(0.0, 60.0, n))
    errors = 5.0 - 0.05 * (days - days[0]) + rng.normal(0.0, 2.0, n)
    found = trend(days, errors)
    fitted = sm.OLS(errors, sm.add_constant(days - days[0])).fit()
    low, high = fitted.conf_int(0.05)[1] * (days[-1] - days[0])
    assert found is not None and found.first == pytest.approx(fitted.params[0], rel=1e-7)
    assert (found.change.low, found.change.high) == pytest.approx((low, high), rel=1e-7)
