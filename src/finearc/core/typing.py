"""Array types used throughout the core."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
Rows = NDArray[np.int64]
Floats = NDArray[np.floating]
