"""Where on a scan a flag of its cells holds."""

import numpy as np


class CellTest:
    """Whether points given in pixels fall into flagged cells."""

    def __init__(self, flags: np.ndarray, side: int):
        self.flags, self.side = flags, side

    def __call__(self, centres: np.ndarray) -> np.ndarray:
        if not len(centres):
            return np.zeros(0, bool)
        columns, rows = (centres / self.side).astype(int).T
        high, wide = self.flags.shape
        return np.asarray(self.flags[np.clip(rows, 0, high - 1), np.clip(columns, 0, wide - 1)])
