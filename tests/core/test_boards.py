"""Each wish of a piece for itself, on the bare surface of a dome: what is told of where it comes to stand."""

import math
from dataclasses import replace
from itertools import combinations
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mirvel.core.forms.form import ACROSS, FRONT_TO_BACK
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.surface import Frame, Site, Surface
from mirvel.core.forms.wishes import Arranged, Wish
from mirvel.core.goods.facts import Role
from mirvel.core.house.design import Balance, FocalPlace, Grading, Grouping, Levels
from mirvel.core.placing.boards import Board, Stand
from mirvel.core.space.vectors import Vec
from tests.pieces import make_piece

FRAME = Frame(16.0, 16.0, 16.0, 7.0, 7.0)  # a round dome, 16 cm high and 32 wide
SURFACE = FORMS["all-round dome"].get_surface(FRAME)
SITES = SURFACE.lattice.sites
ARRANGED = Arranged(
    Grouping.SPREAD, Balance.FREE, FocalPlace.OFF_CENTRE, Levels.VARIED, Grading.NONE, mirrored=False, attempt=0
)


def make_board(
    widths: tuple[float, ...] = (6.0,), mirror: Vec = ACROSS, surface: Surface = SURFACE, **arranged: Any
) -> Board:
    free = np.ones(len(surface.lattice.sites), dtype=bool)
    return Board(surface, None, 400, list(widths), replace(ARRANGED, **arranged), mirror, free)


def get_gap(one: Site, other: Site) -> float:
    return one.point.minus(other.point).length


@pytest.mark.parametrize("level", [0.1, 0.35, 0.6, 0.85])
@pytest.mark.parametrize("across", [-0.6, 0.0, 0.45, None])
def test_the_first_piece_stands_at_the_height_and_side_it_wishes_for(level: float, across: float | None) -> None:
    """Where the dome is as wide as that at the height."""
    site = make_board().take(make_piece(), Wish(level, across=across))
    assert site.level == pytest.approx(level, abs=0.08)
    assert across is None or site.point.x / 16 == pytest.approx(across, abs=0.15)


@pytest.mark.parametrize("away", [-0.7, 0.0, 0.7])
def test_a_wish_for_front_or_back_is_kept(away: float) -> None:
    assert make_board().take(make_piece(), Wish(0.3, away=away)).point.y / 16 == pytest.approx(away, abs=0.15)


@pytest.mark.parametrize("share", [0.0, 0.2, 0.5, 0.8, 1.0])
def test_a_level_by_area_has_that_share_of_the_surface_below_it(share: float) -> None:
    site = make_board().take(make_piece(), Wish(share, by_area=True))
    below = sum(each.level < site.level for each in SITES) / len(SITES)
    assert below == pytest.approx(share, abs=0.08)


def test_no_site_is_taken_twice_before_all_are() -> None:
    board = make_board()
    run = [board.take(make_piece(), Wish(0.5)) for _ in SITES]
    assert len({site.point for site in run}) == len(SITES)
    assert board.take(make_piece(), Wish(0.5)).point in {site.point for site in SITES}


@pytest.mark.parametrize("reach", [16.0, 20.0, 26.0])
def test_a_short_stem_goes_no_higher_than_it_reaches(reach: float) -> None:
    """In a dome twice as high as half its width, measured from the middle of the mouth."""
    tall = FORMS["all-round dome"].get_surface(Frame(32.0, 16.0, 16.0, 7.0, 7.0))
    short, far = (make_board(surface=tall).take(make_piece(reach_cm=cm), Wish(1.0)) for cm in (reach, 90.0))
    assert reach - 4 < short.point.length <= reach + 0.5
    assert far.point.length > 31


@pytest.mark.parametrize("role", [Role.MASS, Role.FILLER])
def test_neighbours_leave_each_other_room_while_there_is_any(role: Role) -> None:
    """A dozen heads 6 cm wide, of 1,100 cm² of dome: none overlaps another."""
    board = make_board()
    run = [board.take(make_piece(role=role), Wish(0.5)) for _ in range(12)]
    assert min(get_gap(one, other) for one, other in combinations(run, 2)) > 6.0


def test_fillers_look_for_the_widest_hole() -> None:
    board = make_board()
    for site in SITES:
        if site.point.x < 8:
            board.mark(make_piece("rose-standard"), site.point)
    hole = board.take(make_piece(role=Role.FILLER, wide_cm=2.0), Wish(0.5))
    assert hole.point.x > 12


def test_two_large_heads_never_touch_at_one_level_while_there_is_another() -> None:
    """Their middles are 1.5 widths apart or their heights an eighth of the piece."""
    board = make_board(widths=(5.0, 5.0, 9.0))
    run = [board.take(make_piece("rose-standard", Role.FOCAL, 9.0), Wish(0.5)) for _ in range(7)]
    for one, other in combinations(run, 2):
        assert get_gap(one, other) >= 13.5 or abs(one.point.z - other.point.z) >= 0.12 * 16
    flat = make_board(widths=(5.0, 5.0, 9.0), levels=Levels.ONE_LEVEL)
    level = [flat.take(make_piece("rose-standard", Role.FOCAL, 9.0), Wish(0.5)) for _ in range(7)]
    assert any(
        get_gap(*both) < 13.5 and abs(both[0].point.z - both[1].point.z) < 1.9 for both in combinations(level, 2)
    )


def test_heads_are_large_by_the_median_of_the_entries_and_a_spike_never_is() -> None:
    def crowd(wide: float, *widths: float) -> bool:
        board = make_board(widths=widths)
        run = [board.take(make_piece("rose-standard", Role.MASS, wide), Wish(0.5)) for _ in range(9)]
        return any(
            get_gap(*both) < 1.5 * wide and abs(both[0].point.z - both[1].point.z) < 1.9
            for both in combinations(run, 2)
        )

    assert crowd(7.0, 6.0, 6.0, 7.0)
    assert not crowd(8.0, 6.0, 6.0, 8.0)  # from 1.3 times the median


def test_kinds_are_spread_or_grouped_as_asked() -> None:
    """Five of one kind among ten of another: spread, they stand at least twice as far apart as grouped."""
    gaps = {}
    for grouping in (Grouping.SPREAD, Grouping.GROUPED):
        board = make_board(grouping=grouping)
        run = [board.take(make_piece(), Wish(0.5)) for _ in range(5)]
        others = [board.take(make_piece("rose-standard"), Wish(0.5)) for _ in range(5)]
        gaps[grouping] = sum(min(get_gap(one, each) for each in run if each is not one) for one in run) / 5
        between = min(get_gap(one, each) for one in others for each in run)
        assert between > (0 if grouping is Grouping.SPREAD else gaps[grouping] / 2)
    assert gaps[Grouping.SPREAD] > 1.5 * gaps[Grouping.GROUPED]


def test_a_kind_is_kept_apart_from_itself_and_a_role_from_itself() -> None:
    """The second of a pair stands across the dome from the first: at least as far as an even six or nine would be."""
    for second in (make_piece(), make_piece("rose-standard")):
        board = make_board()
        first = board.take(make_piece(), Wish(0.3))
        assert get_gap(first, board.take(second, Wish(0.3))) > 0.8 * math.sqrt(SURFACE.lattice.area_cm2 / 9)


def test_what_closes_goes_where_nothing_covers_yet() -> None:
    board = make_board()
    bare = next(site.point for site in SITES if site.level > 0.4 and site.point.x > 8)
    for site in SITES:
        if site.point.minus(bare).length > 6:
            board.mark(make_piece("rose-standard", wide_cm=2.0), site.point)
    closing = board.take(make_piece("limonium", Role.TEXTURE, wide_cm=4.0), Wish(0.5))
    assert closing.point.minus(bare).length < 5


@pytest.mark.parametrize("mirror", [ACROSS, FRONT_TO_BACK])
def test_where_a_piece_stands_to_the_line_pairs_are_mirrored_across(mirror: Vec) -> None:
    def get_off(site: Site) -> float:
        return abs(site.point.x if mirror is ACROSS else site.point.y)

    board = make_board(mirror=mirror)
    assert get_off(board.take(make_piece(), Wish(0.5), Stand.ALONE)) == 0
    assert get_off(board.take(make_piece(), Wish(0.5), Stand.PAIRED)) >= 0.4 * 6
    large = make_board(mirror=mirror, widths=(5.0, 5.0, 9.0))
    paired = [large.take(make_piece("rose-standard", wide_cm=9.0), Wish(0.5), Stand.PAIRED) for _ in range(4)]
    assert min(map(get_off, paired)) >= 0.75 * 9
    board = make_board(mirror=mirror)
    free = [board.take(make_piece(), Wish(0.9), Stand.FREE) for _ in range(20)]
    assert all(get_off(site) == 0 or get_off(site) >= 0.4 * 6 - 1e-9 for site in free)
    assert get_off(make_board(mirror=mirror).take(make_piece(), Wish(0.5), Stand.FREE_ALONE)) < 0.4 * 6


def test_a_piece_on_the_line_takes_the_site_across_it_too() -> None:
    board = make_board()
    for number in range(12):
        before = board.free.copy()
        at = board.take(make_piece(), Wish(0.1 + 0.15 * number), Stand.ALONE)
        gone = np.flatnonzero(before & ~board.free)
        assert len(gone) in {1, 2}
        assert all(SITES[each].point.minus(at.point).length < 4 for each in gone)
        assert at.point.x == at.normal.x == 0
        assert at.normal.length == pytest.approx(1)


@settings(max_examples=20)
@given(middle=st.sampled_from(SITES), radius=st.floats(1.0, 8.0))
def test_nothing_else_stands_within_what_is_closed_or_on_what_is_taken(middle: Site, radius: float) -> None:
    board = make_board()
    board.close(middle.point, radius)
    assert [bool(free) for free in board.free] == [get_gap(site, middle) > radius for site in SITES]
    far = max(SITES, key=lambda site: get_gap(site, middle))
    board.mark(make_piece(), far.point, taking=True)
    assert not board.free[SITES.index(far)]
    assert board.get_nearest(far.point) == far
    assert get_gap(board.take(make_piece(), Wish(middle.level)), middle) > radius


def test_settling_changes_only_what_is_better_off_and_leaves_earlier_entries() -> None:
    board = make_board()
    first = [board.take(make_piece("rose-standard"), Wish(0.5)) for _ in range(6)]
    run = [(make_piece(), Wish(level)) for level in (0.9, 0.1, 0.5, 0.5, 0.4)]
    for piece, wish in run:
        board.take(piece, wish)
    settled = board.settle(run)
    assert len({site.point for site in [*first, *settled]}) == len(first) + len(run)
    assert board.placed == len(first) + len(run)
    for site, (_, wish) in zip(settled, run, strict=True):
        assert site.level == pytest.approx(wish.level, abs=0.15)
    taken = {SITES[each].point for each in np.flatnonzero(~board.free)}
    assert taken == {site.point for site in [*first, *settled]}
    assert board.settle(run) == settled, "what stands well stays"
