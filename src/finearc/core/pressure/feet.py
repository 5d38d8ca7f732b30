"""Finding both feet on the mat: which cells are whose, where heel and toes are, how far each is turned out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import binary_dilation, binary_opening, label

from finearc.core.errors import StreamError
from finearc.core.pressure.clean import LOADED_KPA, MatMotion
from finearc.core.pressure.stream import UnusableMat
from finearc.core.typing import Array, Mask
from finearc.wording import mark, tr

FOOT_LENGTH_M = (0.12, 0.42)
FEWEST_CELLS = 8
"""What a foot keeps within: a child's to the largest shoe, and cells enough for an axis (house values)."""
ONE_FOOT = mark("Only one foot stands on the mat: its share cannot be told. Stand with both feet on it.")
EXCHANGED = mark("the feet stand one before the other and point along the target line: rows and columns are exchanged")
SCRAMBLED = mark("the cells do not form a picture as {} rows of {}, but do as {} of {}: rows and columns are exchanged")
EDGE_M = 0.010
"""How much farther the outermost loaded cell seems to reach than the sole does (measured on the golfer model)."""
GAP_SHARE, CLEANER = 0.35, 0.1
"""Between two feet the mat carries less than the first share of what the weaker foot carries at its widest; the gap
toward the ball is cleaner than that along the target line by the second when the axes are exchanged (house values)."""


@dataclass(frozen=True)
class Foot:
    """One shoe as the mat saw it. ``cells`` (cells,): what counts as it; ``heel_m``, ``toe_m`` (2,) the ends of its
    sole, bay axes; ``width_m`` at its widest; ``partly_off``: it reaches over the mat's edge."""

    cells: Mask
    heel_m: Array
    toe_m: Array
    width_m: float
    partly_off: bool

    @property
    def length_m(self) -> float:
        return float(np.linalg.norm(self.toe_m - self.heel_m))

    @property
    def ahead(self) -> Array:
        """Direction (2,) from heel to toes."""
        return np.asarray((self.toe_m - self.heel_m) / self.length_m)

    @property
    def centre_m(self) -> Array:
        """Middle of the sole (2,), m."""
        return np.asarray((self.heel_m + self.toe_m) / 2.0)

    def heading(self) -> float:
        """Heading of heel to toes against the ball's direction, rad, + toward the target."""
        return float(np.arctan2(self.ahead[1], self.ahead[0]))

    def along(self, places_m: Array) -> Array:
        """Share of the way from heel (0) to toes (1) of places (n, 2)."""
        return np.asarray((places_m - self.heel_m) @ self.ahead / self.length_m)

    def aside(self, places_m: Array) -> Array:
        """Distance (n,) of places (n, 2) from the line of heel and toes, m, + toward the target."""
        return np.asarray((places_m - self.heel_m) @ np.array([-self.ahead[1], self.ahead[0]]))


@dataclass(frozen=True)
class Feet:
    """Both feet; None for one that is not on the mat. ``split_m``: where along the target line one ends and the other
    begins; ``by_hand``: the instructor drew that line."""

    lead: Foot | None
    trail: Foot | None
    split_m: float
    by_hand: bool = False

    @property
    def both(self) -> tuple[Foot, Foot] | None:
        return (self.lead, self.trail) if self.lead is not None and self.trail is not None else None

    @property
    def stance_width_m(self) -> float | None:
        """Distance of the heels along the target line, as the ankles stand above them, or None."""
        if self.both is None:
            return None
        lead, trail = (f.heel_m + 0.25 * (f.toe_m - f.heel_m) for f in self.both)
        return float(lead[1] - trail[1])


def find_feet(mat: MatMotion, address: slice, swing: slice, split_m: float | None = None) -> Feet:
    """The feet in a swing: told apart by how they stand at ``address``, outlined by all that carries weight in
    ``swing``. ``split_m``: the instructor's own line between them. Raises ``UnusableMat`` for a mat whose rows and
    columns are exchanged."""
    standing = np.maximum(mat.mean_kpa(address), 0.0)
    outline = _clean(mat, mat.most_kpa(swing) > LOADED_KPA)
    places = mat.stream.grid.places_m
    _check_picture(mat, standing)
    if split_m is None:
        _check_axes(mat, standing, outline)
        split = _split(standing, places[:, 1])
        if split is None:
            return _one(mat, outline, standing)
    else:
        split = split_m
    lead = _foot(mat, outline & (places[:, 1] > split))
    trail = _foot(mat, outline & (places[:, 1] <= split))
    return Feet(lead, trail, split, split_m is not None)


def _clean(mat: MatMotion, cells: Mask) -> Mask:
    """Without single cells that stand alone."""
    picture = cells.reshape(mat.stream.grid.rows, mat.stream.grid.columns)
    square = np.ones((3, 3), dtype=bool)
    opened = binary_dilation(binary_opening(picture, square[:2, :2]), square) & picture
    return np.asarray(opened.ravel())


def _one(mat: MatMotion, outline: Mask, standing: Array) -> Feet:
    """A single foot: on the side of the mat's middle on which it stands."""
    y = mat.stream.grid.places_m[:, 1]
    at = float(np.average(y, weights=np.maximum(standing, 1e-9)))
    foot, middle = _foot(mat, outline), float(y.min() + y.max()) / 2.0
    return Feet(foot, None, at - 0.2) if at >= middle else Feet(None, foot, at + 0.2)


def _profile(values: Array, at_m: Array) -> tuple[Array, Array]:
    """Sums of values (cells,) along lines of equal ``at_m``: places (k,), sums (k,)."""
    lines, index = np.unique(np.round(at_m, 6), return_inverse=True)
    return lines, np.asarray(np.bincount(index, weights=values, minlength=len(lines)), dtype=np.float64)


def _two_heaps(lines: Array, sums: Array) -> tuple[float, float] | None:
    """Middle of the gap between two heaps of a profile and how full the gap is against the lesser heap, or None."""
    total = sums.sum()
    if total <= 0 or len(lines) < 6:
        return None
    weight = np.cumsum(sums) / total
    moment = np.cumsum(sums * lines) / total
    with np.errstate(divide="ignore", invalid="ignore"):
        between = np.nan_to_num((moment[-1] * weight - moment) ** 2 / (weight * (1.0 - weight)))
    k = int(np.argmax(between[:-1]))
    step = float(np.median(np.diff(lines)))
    reach = max(1, round(0.08 / step))
    near = slice(max(0, k - reach), min(len(lines), k + reach + 1))
    empty = sums[near] <= sums[near].min() + 0.02 * sums.max()
    middle = float(lines[near][empty].mean())
    lesser = min(sums[lines < middle].max(initial=0.0), sums[lines >= middle].max(initial=0.0))
    return middle, float(np.interp(middle, lines, sums)) / max(lesser, 1e-9)


def _split(standing: Array, y_m: Array) -> float | None:
    """Where along the target line the feet part, or None when there is one heap only."""
    found = _two_heaps(*_profile(standing, y_m))
    if found is None or found[1] > GAP_SHARE:
        return None
    lead = float(standing[y_m > found[0]].sum())
    share = lead / float(standing.sum())
    return found[0] if 0.06 < share < 0.94 else None


def _check_axes(mat: MatMotion, standing: Array, outline: Mask) -> None:
    """Feet stand side by side along the target line and point toward the ball."""
    places = mat.stream.grid.places_m
    heaps = _two_heaps(*_profile(standing, places[:, 0]))
    beside = _two_heaps(*_profile(standing, places[:, 1]))
    if heaps is None or heaps[1] > GAP_SHARE or not outline.any():
        return
    sides = [outline & (places[:, 0] > heaps[0]), outline & (places[:, 0] <= heaps[0])]
    if any(s.sum() < FEWEST_CELLS for s in sides):
        return
    across = [np.ptp(places[s], axis=0) for s in sides]
    if all(a[1] > 1.3 * a[0] for a in across) and (beside is None or beside[1] > heaps[1] + CLEANER):
        raise UnusableMat(
            mat.stream.source,
            tr(EXCHANGED),
            "row_axis, column_axis",
            tr("Exchange row_axis and column_axis in capture.json"),
        )


def _check_picture(mat: MatMotion, standing: Array) -> None:
    """The same cells as columns of rows must not be much the smoother picture."""
    grid = mat.stream.grid
    if grid.rows == grid.columns:
        return
    own = _roughness(standing.reshape(grid.rows, grid.columns))
    other = _roughness(standing.reshape(grid.columns, grid.rows))
    if other < 0.6 * own:
        raise UnusableMat(
            mat.stream.source,
            tr(SCRAMBLED).format(grid.rows, grid.columns, grid.columns, grid.rows),
            tr("rows, columns"),
            tr("Exchange rows and columns in capture.json"),
        )


def _roughness(picture: Array) -> float:
    down, across = np.diff(picture, axis=0), np.diff(picture, axis=1)
    return float(np.abs(down).sum() + np.abs(across).sum()) / max(float(picture.sum()), 1e-9)


def _foot(mat: MatMotion, cells: Mask) -> Foot | None:
    """One foot of its cells, or None when there are too few."""
    cells = _largest(mat, cells)
    if cells.sum() < FEWEST_CELLS:
        return None
    grid = mat.stream.grid
    places = grid.places_m[cells]
    ahead = _axis(places)
    middle = places.mean(axis=0)
    u = (places - middle) @ ahead
    v = (places - middle) @ np.array([-ahead[1], ahead[0]])
    line = np.median(v[np.abs(u) < 0.45 * np.ptp(u)])
    half = 0.5 * float(np.abs(ahead) @ np.array(grid.cell_m)) - EDGE_M
    start, stop = float(u.min()) - half, float(u.max()) + half
    base = middle + line * np.array([-ahead[1], ahead[0]])
    wide = float(np.ptp(v[u > np.median(u)])) + min(grid.cell_m)
    counted = cells.reshape(grid.rows, grid.columns)
    around = binary_dilation(counted, iterations=1)
    off = bool((cells & grid.on_edge).sum() >= 2)
    return Foot(np.asarray(around.ravel()), base + start * ahead, base + stop * ahead, wide, off)


def _largest(mat: MatMotion, cells: Mask) -> Mask:
    """The largest patch and what lies within 4 cells of it: heel and toes may part, a dropped ball does not count."""
    picture: Mask = cells.reshape(mat.stream.grid.rows, mat.stream.grid.columns)
    joined, count = label(np.asarray(binary_dilation(picture, iterations=2)))
    if count <= 1:
        return cells
    sizes = np.bincount(joined[picture], minlength=count + 1)
    largest = np.asarray(joined) == int(np.argmax(sizes))
    return np.asarray(np.logical_and(picture, largest).ravel(), dtype=bool)


def _axis(places: Array) -> Array:
    """Direction (2,) from heel to toes of a sole's cells (k, 2): from the middle of its rear part to the middle of its
    ball, starting from the longest axis. A sole points toward the ball."""
    centred = places - places.mean(axis=0)
    ahead = np.linalg.svd(centred, full_matrices=False)[2][0]
    ahead = ahead if ahead[0] >= 0 else -ahead
    for _ in range(4):
        u = centred @ ahead
        share = (u - u.min()) / max(float(np.ptp(u)), 1e-9)
        heel, ball = centred[share < 0.30].mean(axis=0), centred[(share > 0.55) & (share < 0.95)].mean(axis=0)
        ahead = (ball - heel) / np.linalg.norm(ball - heel)
    return np.asarray(ahead)


def check_feet(feet: Feet, source: str) -> None:
    """Raises ``StreamError`` for feet no player has."""
    for name, foot in (("lead", feet.lead), ("trail", feet.trail)):
        if foot is not None and not FOOT_LENGTH_M[0] <= foot.length_m <= FOOT_LENGTH_M[1] and not foot.partly_off:
            raise StreamError(
                source,
                tr("the {name} foot would be {value:.0f} cm long", name=name, value=100 * foot.length_m),
                "cell_mm",
                tr("Check the distance of the cells"),
            )
