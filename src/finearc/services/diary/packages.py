"""Courses of lessons: how many are left. Counts only; no money is handled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from finearc.services.diary.records import Package
from finearc.services.errors import Refused
from finearc.services.ports import UnitOfWork
from finearc.services.records import Lesson, Player
from finearc.wording import tr

USED = ("running", "closed", "no_show")
MOST_PACKAGES = 50


@dataclass(frozen=True)
class PackageRead:
    """``used``: took place, or nobody came; ``booked``: still to come; ``left``: neither."""

    package: Package
    used: int
    booked: int

    @property
    def left(self) -> int:
        return max(0, self.package.lessons - self.used - self.booked)


def packages_of(uow: UnitOfWork, player_ids: Sequence[UUID]) -> list[PackageRead]:
    """The oldest first."""
    found = uow.find(Package, player_id=list(player_ids), order="made_at")
    lessons = uow.find(Lesson, package_id=[p.id for p in found]) if found else []
    return [
        PackageRead(
            p,
            sum(x.package_id == p.id and x.status in USED for x in lessons),
            sum(x.package_id == p.id and x.status == "planned" for x in lessons),
        )
        for p in found
    ]


def open_for(uow: UnitOfWork, player_id: UUID) -> UUID | None:
    """The oldest course with a lesson left: a lesson that is booked is one of it."""
    return next((p.package.id for p in packages_of(uow, [player_id]) if p.left > 0), None)


def add_package(uow: UnitOfWork, player_id: UUID, name: str, lessons: int, by: str) -> Package:
    """A new course. Raises ``NotFound``, ``Refused``."""
    uow.get(Player, player_id)
    if len(uow.find(Package, player_id=player_id)) >= MOST_PACKAGES:
        raise Refused(
            tr("this player has {most_packages} courses", most_packages=MOST_PACKAGES),
            tr("Take out those that are used"),
        )
    made = Package(
        uow.academy_id, player_id, " ".join(name.split()) or tr("{lessons} lessons", lessons=lessons), lessons, by
    )
    uow.add(made)
    return made


def drop_package(uow: UnitOfWork, package: Package) -> None:
    """No course any more; its lessons stay in the diary."""
    for lesson in uow.find(Lesson, package_id=package.id):
        lesson.package_id = None
    uow.remove(package)
