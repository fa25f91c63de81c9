"""Which piece takes which site: deterministic, in build order.

Each piece has wishes by its role and form; it takes the free site that scores best on height and side, room beside
its neighbours, distance from its own kind and role (or closeness, in grouped style), and never stands beside
another large head at one level while a site is left that does not. Flowers look for room among flowers, greens
among greens: greens lie deeper and show between. In symmetric pieces every second one mirrors the one before.
The first line stem, or failing that the first bloom, takes the crown and so sets the height; nothing else passes
it. Pinned pieces are placed before all others, and then those that have kept places. What an earlier entry takes never
hangs on a later one's count. Weights are judgements of ours, tuned by eye.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import groupby

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.by_role import get_wishes
from mirvel.core.forms.form import FRONT_TO_BACK, Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.parts import Part
from mirvel.core.forms.surface import Site, Surface
from mirvel.core.forms.wishes import Arranged, Wish, Wishing
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Role
from mirvel.core.goods.heads import get_head, scale_head
from mirvel.core.house.design import Balance, Grouping, Levels
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.asked import (
    OUTSIDE,
    Asked,
    get_first_top,
    get_meant_wish,
    get_outside_of_sites,
    get_stair_tops,
    order_by_naming,
)
from mirvel.core.placing.boards import Board, Stand
from mirvel.core.placing.depths import get_meant_shell
from mirvel.core.placing.holders import get_least_inside_cm
from mirvel.core.placing.numbering import choose_heir, find_partnerless, number_pieces
from mirvel.core.placing.order import get_build_order
from mirvel.core.placing.patterns import find_sites
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.runs import get_grade_key
from mirvel.core.placing.seats import find_site, get_kept, get_point, lay_on_surface, lift
from mirvel.core.placing.settling import Laid, Seated, Settling
from mirvel.core.placing.size import Sizing
from mirvel.core.placing.windows import OUTSIDE_SHARE
from mirvel.core.recipe.entry import Entry, KeptPlace, Outline, Pin, Seat
from mirvel.core.recipe.meant import NOTHING_MEANT, HeightKind, Meant
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import Taken
from mirvel.core.space.vectors import Vec

KEPT_FREE = 0.55  # of a token's half width, nothing else stands so near its middle
BREAKING_SHELL = 1.08  # how far out stands what is marked as breaking the outline
LINE_CLEARANCE = 0.28  # share of the form by which line stems stand above the flowers at the crown


def get_arranged(recipe: Recipe, form: Form, rules: HouseRules) -> Arranged:
    """How the flowers are arranged: as the recipe says, else as the form does, else as the house does."""
    own, usual = recipe.arranging, form.arranging
    return Arranged(
        grouping=own.grouping or usual.grouping or Grouping.SPREAD,
        balance=own.balance or usual.balance or Balance.FREE,
        focal=own.focal or usual.focal or rules.focal_place,
        levels=own.levels or usual.levels or Levels.VARIED,
        grading=own.grading or usual.grading or rules.grading,
        mirrored=own.mirrored,
        attempt=own.attempt,
    )


def get_pieces(taken: Taken, rules: HouseRules) -> tuple[Piece, ...]:
    """Every piece of a recipe in the order it goes in."""
    recipe, materials = taken.recipe, taken.placed
    form = FORMS[recipe.form]
    delicate = {entry_id for entry_id, material in materials.items() if material.delicate}
    days = rules.get_age(recipe.brief.days_to_viewing)
    below_rim = get_least_inside_cm(recipe, taken.container)
    arranged = get_arranged(recipe, form, rules)
    return tuple(
        Piece(
            entry,
            material,
            number + 1,
            scale_head(head, meant.get_scale(number + 1, entry.placed)),
            head.stem_length_cm - below_rim,
            _get_zone(form, entry),
            meant,
        )
        for entry in get_build_order(recipe, delicate, form)
        for material in [materials[entry.id]]
        for meant in [_get_meant(entry, arranged)]
        for head in [get_head(material, entry.piece, days, rules.opening_at_delivery)]
        for number in range(entry.placed)
    )


def _get_meant(entry: Entry, arranged: Arranged) -> Meant:
    """What an entry is meant to do, of the form as it is built. That its heads stand at one level is no wish where all
    of the form's do: they spread over it as they would anyway."""
    meant = entry.meant.across if arranged.mirrored else entry.meant
    says_level = meant.height is not None and meant.height.kind is HeightKind.LEVEL
    return meant.leave_out(["height"]) if says_level and arranged.levels is Levels.ONE_LEVEL else meant


def _get_zone(form: Form, entry: Entry) -> Part | None:
    """The part of the form that an entry's pieces keep to: as is meant, else by role where its places are not told."""
    where = entry.meant.where
    if where and where.part in form.zones.values():
        return where.part
    return None if entry.meant.decides_places else form.zones.get(entry.role)


def get_places(
    pieces: tuple[Piece, ...], recipe: Recipe, container: Container, sizing: Sizing, rules: HouseRules
) -> Laid:
    """A place for every piece, in the order given."""
    placing = _Placing(pieces, recipe, container, sizing, get_arranged(recipe, sizing.form, rules))
    return placing.place_all()


def _get_named(entries: Mapping[str, Sequence[Piece]]) -> dict[str, tuple[str, ...]]:
    """The entries each is told by; what is told by the greens about it, by all that are told by no other entry."""
    greens = tuple(entry for entry, pieces in entries.items() if pieces[0].is_green and not pieces[0].meant.named)
    return {
        entry: pieces[0].meant.named + (greens if pieces[0].meant.is_told_by_greens and not pieces[0].is_green else ())
        for entry, pieces in entries.items()
    }


class _Placing:
    """One recipe's pieces on their way to their places."""

    def __init__(
        self, pieces: tuple[Piece, ...], recipe: Recipe, container: Container, sizing: Sizing, arranged: Arranged
    ) -> None:
        self.recipe, self.container, self.arranged = recipe, container, arranged
        self.form, self.frame = sizing.form, sizing.frame
        self.surface: Surface = sizing.surface
        is_paired = arranged.balance is Balance.SYMMETRIC
        self.pieces = number_pieces(pieces, self.surface, self.form.mirror if is_paired else None)
        self.boards: dict[tuple[bool, Part | None], Board] = {}
        self.free: dict[Part | None, NDArray[np.bool_]] = {}  # sites nothing has taken yet, by zone
        self.has_line = any(entry.role is Role.LINE and entry.placed for entry in recipe.entries)
        self.taken: dict[tuple[str, int], Seated] = {}
        self.has_waiting = True  # whether any piece still looks for a site
        self.leaves: dict[str, list[Vec]] = {}  # tips of greens, by the entry that is told by them
        self.settling = Settling(sizing, recipe, container)

    def place_all(self) -> Laid:
        crown = self.form.crown(self.frame)
        token = self._find_token()
        others = [piece for piece in self.pieces if piece is not token]
        heir = choose_heir(others, self.frame.above_rim_cm) if crown else None
        self._take_again(heir)
        if token:
            self._place_token(token)
        if crown and heir:
            self._take_seat(heir, crown, Seat.CROWN)
        entries = {entry: list(run) for entry, run in groupby(self.pieces, key=lambda piece: piece.entry.id)}
        for entry in order_by_naming(_get_named(entries)):
            fresh = [piece for piece in entries[entry] if piece.key not in self.taken]
            self._place_entry(entries[entry])
            self._grade(fresh)
        return self.settling.settle(self.pieces, [self.taken[piece.key] for piece in self.pieces])

    def _take_again(self, heir: Piece | None) -> None:
        """What is pinned, and then what has kept a place, stands where it did; but who has the crown leaves it to its
        heir."""
        for piece in self.pieces:
            if piece.pin:
                self.taken[piece.key] = self._take_pin(piece, piece.pin)
        standing = [
            (piece, kept)
            for piece in self.pieces
            if (kept := piece.kept) and piece is not heir and not (heir and kept.seat is Seat.CROWN)
        ]
        known = {*self.taken, *(piece.key for piece, _ in standing), *([heir.key] if heir else [])}
        self.has_waiting = any(piece.key not in known for piece in self.pieces)
        for piece, kept in standing:
            self.taken[piece.key] = self._take_kept(piece, kept)

    def _take_kept(self, piece: Piece, kept: KeptPlace) -> Seated:
        is_listed = bool(self.form.only_listed or piece.zone)
        listed = self._get_board(piece) if is_listed else None
        site = find_site(kept, self.form, self.surface, listed, has_height=piece.meant.height is not None)
        if not (self.has_waiting or is_listed):
            return Seated(site, kept.out, kept)  # nothing looks for a site any more
        board = self._get_board(piece)
        within = site.point if piece.zone else self.surface.get_in_lattice(site.point)
        board.mark(piece, within, taking=kept.seat is Seat.SURFACE)
        if kept.seat is Seat.TOKEN:
            board.close(within, KEPT_FREE * piece.head.width_cm / 2)
        return Seated(site, kept.out, kept)

    def _take_seat(self, piece: Piece, site: Site, seat: Seat) -> None:
        """A place the form has only one of."""
        self._get_board(piece).mark(piece, self.surface.get_in_lattice(site.point))
        self.taken[piece.key] = Seated(site, 1.0, get_kept(piece.number, site, 1.0, self.frame, seat))

    def _get_board(self, piece: Piece) -> Board:
        """The sites a piece competes for: greens and flowers each have their own, but for forms of listed places."""
        key = (piece.is_green and not self.form.only_listed and not piece.zone, piece.zone)
        if key not in self.boards:
            entries = [each for each in self.recipe.entries if each.role is not Role.GREENERY]
            widths = {each.entry.id: each.head.width_cm for each in self.pieces}
            known = [widths[entry.id] for entry in entries if entry.id in widths]
            if piece.zone not in self.free:
                sites = sum(site.zone == piece.zone for site in self.surface.lattice.sites)
                self.free[piece.zone] = np.ones(sites, dtype=bool)
            free, mirror = self.free[piece.zone], self.form.mirror
            self.boards[key] = Board(self.surface, piece.zone, len(self.pieces), known, self.arranged, mirror, free)
        return self.boards[key]

    def _find_token(self) -> Piece | None:
        """The bow (or other token) that has the place the form keeps for it still to take."""
        tokens = [piece for piece in self.pieces if piece.entry.role is Role.TOKEN]
        if self.form.token is None or any(piece.kept for piece in tokens):
            return None
        return next((piece for piece in tokens if not piece.pin), None)

    def _place_token(self, piece: Piece) -> None:
        """It takes that place before all else, and is worked round."""
        if self.form.token is None:
            return
        site = replace(self.form.token(self.frame), level=1.0)
        self._take_seat(piece, site, Seat.TOKEN)
        within = self.surface.get_in_lattice(site.point)
        self._get_board(piece).close(within, KEPT_FREE * piece.head.width_cm / 2)

    def _take_pin(self, piece: Piece, pin: Pin) -> Seated:
        """A pinned piece keeps its tip, which is told as the finished piece stands; it faces the way the surface does
        there."""
        pin = pin.across if self.arranged.mirrored else pin
        tip = Vec(pin.x, pin.y, pin.z)
        board, within = self._get_board(piece), self.surface.get_in_lattice(tip)
        nearest = self.surface.fit(board.get_nearest(within))
        facing = nearest.normal
        if not self.form.only_listed and self.surface.lobes:
            lobe = self.surface.get_lobe(tip)
            facing = Vec(
                (tip.x - lobe.centre.x) / lobe.half.x**2,
                (tip.y - lobe.centre.y) / lobe.get_half_depth(tip.y) ** 2,
                (tip.z - lobe.centre.z) / lobe.half.z**2,
            ).unit
        if pin.faces:
            facing = Vec(*pin.faces).unit
        board.mark(piece, within)
        return Seated(replace(nearest, point=tip, normal=facing), 1.0, tip=tip)

    def _place_entry(self, pieces: list[Piece]) -> None:
        """All pieces of one entry that are not placed yet, in pairs where the piece is symmetric."""
        if all(piece.key in self.taken for piece in pieces):
            return
        piece = pieces[0]
        arranged = replace(self.arranged, attempt=self.arranged.attempt + piece.entry.attempt)
        wishing = Wishing(piece.entry.role, len(pieces), piece.head.width_cm, self.frame.above_rim_cm, arranged)
        wishes = get_wishes(self.form.wishes, wishing)
        waiting = [(each, wish) for each, wish in zip(pieces, wishes, strict=True) if each.key not in self.taken]
        board = self._get_board(piece)
        if self._stands_in_pairs(piece) and self._can_be_paired(piece, board):
            self._place_pairs(self._join_partners(waiting, pieces, board), board)
            return
        tops = self._get_tops(waiting)
        if (piece.meant.decides_places or tops[0] is not None) and not piece.zone:
            self._place_as_meant(waiting, tops, board)
            return
        for each, wish in waiting:
            board.take(each, wish)
        for (each, wish), site in zip(waiting, board.settle(waiting), strict=True):
            self.taken[each.key] = self._take(site, each, wish)

    def _grade(self, fresh: list[Piece]) -> None:
        """Exchange the places of an entry among its own pieces, so that the larger stand where they are meant to."""
        sizes = fresh[0].meant.sizes if fresh else None
        if sizes is None or sizes.grade is None:
            return
        seats = sorted(
            (self.taken[piece.key] for piece in fresh), key=lambda each: get_grade_key(sizes.grade, each.site.point)
        )
        by_size = sorted(fresh, key=lambda piece: (-piece.head.width_cm, piece.number))
        for piece, seat in zip(by_size, seats, strict=True):
            kept = seat.kept and seat.kept.model_copy(update={"number": piece.number})
            self.taken[piece.key] = replace(seat, kept=kept)

    def _place_as_meant(self, waiting: list[tuple[Piece, Wish]], tops: list[float | None], board: Board) -> None:
        """All of an entry that is not placed yet, together, where its designer means it to stand."""
        piece = waiting[0][0]
        pattern = piece.meant.pattern
        about, linked = (
            [self.settling.find_head(each, self.taken[each.key]) for each in self._get_placed(entry)]
            for entry in ((pattern.entry, pattern.other) if pattern else ("", ""))
        )
        crowned = [self.taken[each] for each in self.taken if each[0] != piece.entry.id]
        crown = next((each.site.point for each in crowned if each.kept and each.kept.seat is Seat.CROWN), None)
        own = [self.taken[each].site.point for each in self.taken if each[0] == piece.entry.id]
        asked = Asked(piece.meant, waiting, tops, about, linked, own, board, self.surface, self._find_top, crown)
        for (each, _), site in zip(waiting, find_sites(asked), strict=True):
            self.taken[each.key] = self._keep(site, each, self._get_meant_shell(each, site))

    def _find_top(self, piece: Piece, site: Site) -> float:
        return self.settling.find_top(piece, Seated(site, self._get_meant_shell(piece, site)))

    def _get_meant_shell(self, piece: Piece, site: Site) -> float:
        if piece.meant.is_told_by_greens and piece.entry.id not in self.leaves:
            greens = [each for each in self.pieces if each.is_green and each.key in self.taken and not each.zone]
            self.leaves[piece.entry.id] = [self.settling.find_tip(each, self.taken[each.key])[1] for each in greens]
        return get_meant_shell(piece, site, self.surface, self.leaves.get(piece.entry.id, []))

    def _get_placed(self, entry_id: str) -> list[Piece]:
        return [piece for piece in self.pieces if piece.entry.id == entry_id and piece.key in self.taken]

    def _get_tops(self, waiting: list[tuple[Piece, Wish]]) -> list[float | None]:
        """Where the top of each ends, cm above the rim, as far as that is meant."""
        piece, count = waiting[0][0], len(waiting)
        crowned = [each for each in self.taken if (kept := self.taken[each].kept) and kept.seat is Seat.CROWN]
        crown = next((each for each in self.pieces if each.key in crowned), None)
        crown_top = self.settling.find_top(crown, self.taken[crown.key]) if crown else None
        other = crown.meant.height if crown else None
        if crown_top is not None and other and other.is_over_all and other.entry == piece.entry.id:
            return [crown_top - other.by] * count  # the taller one has the crown already: this one makes way for it
        height = piece.meant.height
        if height is None or height.kind in {HeightKind.LEVEL, HeightKind.VARIED}:
            return [None] * count
        if height.kind is HeightKind.STAIR:
            has_crown = crown is not None and crown.entry.id == piece.entry.id and crown_top is not None
            first = (crown_top or 0.0) - height.by if has_crown else get_first_top(piece.meant, self.frame.above_rim_cm)
            return list(get_stair_tops(count, height.by, first))
        if height.kind is HeightKind.OVER:
            tops = [self.settling.find_top(each, self.taken[each.key]) for each in self._get_placed(height.entry)]
            return [height.get_over(tops) if tops else None] * count
        rim = self.frame.rim_height_cm
        times = height.by * self.container.height_cm - rim
        return [{HeightKind.TIMES: times, HeightKind.TABLE: height.by - rim}.get(height.kind, height.by)] * count

    def _stands_in_pairs(self, piece: Piece) -> bool:
        one_sided = self.form.only_listed or any(abs(lobe.centre.x) > 1e-9 for lobe in self.surface.lobes)
        return self.arranged.balance is Balance.SYMMETRIC and not (piece.zone or one_sided)

    def _can_be_paired(self, piece: Piece, board: Board) -> bool:
        """Whether what is meant of a piece lets it have a partner, and leaves room for the two."""
        meant = piece.meant
        if not meant.may_be_mirrored(sideways=self.form.mirror.x < 0):
            return False
        if self.form.covers_frame or not meant.where:
            return True
        outside = get_outside_of_sites(meant, board, self.surface)
        paired = outside[board.find_paired(piece)]
        return bool(len(paired)) and float(paired.min()) <= float(outside.min()) + OUTSIDE_SHARE

    def _join_partners(
        self, waiting: list[tuple[Piece, Wish]], pieces: list[Piece], board: Board
    ) -> list[tuple[Piece, Wish]]:
        """Those that come to pieces which have kept their places become the partners of what stands alone there; the
        others are given back."""
        kept = [(each, self.taken[each.key]) for each in pieces if each.key in self.taken and not each.pin]
        sites = [taken.site for _, taken in kept]
        alone = [kept[number] for number in find_partnerless([site.point for site in sites], self.form.mirror)]
        rest = list(waiting)
        for (_, taken), (piece, _) in zip(alone, waiting, strict=False):
            site = taken.site.mirrored(self.form.mirror)
            board.mark(piece, self.surface.get_in_lattice(site.point), taking=True)
            self.taken[piece.key] = self._keep(site, piece, taken.shell)
            rest.pop(0)
        return rest

    def _place_pairs(self, waiting: list[tuple[Piece, Wish]], board: Board) -> None:
        """Every second piece mirrors the one before; what is wished for the middle line stands on it, and so does one
        over, as on the narrow arms of a covered frame or the ridge of a saddle any may."""
        before: tuple[Site, Wish] | None = None
        meant = waiting[0][0].meant if waiting else NOTHING_MEANT
        less = OUTSIDE * get_outside_of_sites(meant, board, self.surface) if meant.decides_places else 0.0
        waiting = [(each, get_meant_wish(meant, at, wish)) for at, (each, wish) in enumerate(waiting)]
        free_middle = self.form.covers_frame or self.form.mirror == FRONT_TO_BACK
        middle = [] if free_middle else [each for each in waiting if each[1].across == 0.0]
        rest = [each for each in waiting if each not in middle]
        for number, (each, wish) in enumerate([*middle, *rest], -len(middle)):
            if before is not None:
                site = before[0].mirrored(self.form.mirror)
                board.mark(each, site.point, taking=True)
                self.taken[each.key], before = self._take(site, each, before[1]), None
                continue
            is_over = number == len(rest) - 1 if free_middle else len(rest) % 2 == 1 and number == 0
            alone = is_over or number < 0
            side = replace(wish, across=0.0) if alone and not free_middle else wish
            on_free, on_line = (Stand.FREE_ALONE, Stand.ALONE) if alone else (Stand.FREE, Stand.PAIRED)
            site = board.take(each, side, on_free if free_middle else on_line, less)
            is_paired = not alone and site.point != site.point.times(self.form.mirror)
            self.taken[each.key], before = self._take(site, each, wish), (site, wish) if is_paired else None

    def _take(self, site: Site, piece: Piece, wish: Wish) -> Seated:
        fitted = self.surface.fit(site)
        return self._keep(fitted, piece, self._get_shell(piece, wish, fitted))

    def _keep(self, site: Site, piece: Piece, shell: float) -> Seated:
        """A site of the surface as it comes out once its place is kept."""
        kept = get_kept(piece.number, site, shell, self.frame, Seat.SURFACE)
        if not (self.form.only_listed or piece.zone):
            site = lay_on_surface(kept, self.form, self.surface)
        elif piece.meant.height:
            site = lift(site, self.frame, get_point(kept, self.frame).z)
        return Seated(site, kept.out, kept)

    def _get_shell(self, piece: Piece, wish: Wish, site: Site) -> float:
        """How far out: as it is meant or marked, else as wished, but that the others hold back towards the crown, so
        that line stems rise clear of them."""
        if piece.meant.depth and not piece.zone:
            return self._get_meant_shell(piece, site)
        if piece.meant.decides_places:
            return 1.0
        if piece.entry.outline is Outline.BREAKS:
            return max(wish.shell, BREAKING_SHELL)
        if not piece.entry.may_break_outline:
            wish = replace(wish, shell=min(wish.shell, 1.0))
        if not self.has_line or piece.entry.role is Role.LINE or not self.form.covers:
            return wish.shell
        return wish.shell * (1 - LINE_CLEARANCE * max(0.0, min(1.0, (wish.level - 0.25) / 0.6)))
