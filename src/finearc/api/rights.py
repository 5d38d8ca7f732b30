"""Which right each route asks for. A test fails for a route that does not stand here, and for one that is gone."""

from __future__ import annotations

from finearc.services.people.roles import Right

TAGS: dict[str, tuple[Right, Right]] = {
    "sign-in": (Right.ACCOUNT, Right.ACCOUNT),
    "people": (Right.OWN, Right.OWN),
    "academy": (Right.ACCOUNT, Right.OWN),
    "catalogue": (Right.ACCOUNT, Right.ACCOUNT),
    "players": (Right.DIARY, Right.DIARY),
    "diary": (Right.DIARY, Right.DIARY),
    "lesson": (Right.FIT, Right.TEACH),
    "clips": (Right.FIT, Right.FIT),
    "markers": (Right.FIT, Right.FIT),
    "ground": (Right.FIT, Right.TEACH),
    "judging": (Right.TEACH, Right.TEACH),
    "jobs": (Right.FIT, Right.FIT),
    "bays": (Right.WATCH, Right.FIT),
    "training": (Right.FIT, Right.TEACH),
    "comparing": (Right.TEACH, Right.TEACH),
    "table": (Right.TEACH, Right.TEACH),
    "sharing": (Right.TEACH, Right.TEACH),
    "search": (Right.TEACH, Right.TEACH),
    "putting": (Right.FIT, Right.FIT),
    "rounds": (Right.FIT, Right.FIT),
    "practice": (Right.TEACH, Right.TEACH),
}
"""By a route's tag: to read and to change."""
ROUTES: dict[str, Right] = {
    # a player's own things
    "erase_player": Right.OWN,
    "bring_player": Right.OWN,
    "export_player": Right.TEACH,
    "player_authors": Right.TEACH,
    "player_openers": Right.TEACH,
    "share_player": Right.TEACH,
    "lesson_authors": Right.TEACH,
    # who fits the sensors captures, and marks what was captured
    "start_recording": Right.FIT,
    "request_swings": Right.FIT,
    "drop_bundle": Right.FIT,
    "change_lesson": Right.FIT,
    "change_swing": Right.FIT,
    "undo": Right.FIT,
    "redo": Right.FIT,
    "guess": Right.FIT,
    "split": Right.FIT,
    "mat_clock": Right.FIT,
    "export": Right.TEACH,
    "block_change": Right.TEACH,
    # a bay's big screen
    "make_screen": Right.WATCH,
    # by what an academy judges
    "save_benchmarks": Right.RULES,
    "use_benchmarks": Right.RULES,
    "retire_benchmarks": Right.RULES,
    "import_benchmarks": Right.RULES,
    "save_cohort": Right.RULES,
    "keep_cohort_reference": Right.RULES,
    "remove_reference": Right.RULES,
    "default_schools": Right.RULES,
    "import_own": Right.RULES,
    "reword_drill": Right.RULES,
    "remove_own_drill": Right.RULES,
    "save_own_finding": Right.RULES,
    "save_own_drill": Right.RULES,
    "remove_own": Right.RULES,
    "start_measuring": Right.RULES,
    "decide_measuring": Right.RULES,
    "measuring_again": Right.TEACH,
}
"""Routes that ask for another right than their tag's."""
SAFE = ("GET", "HEAD", "OPTIONS")


def right_of(name: str, tag: str, *, reads: bool) -> Right:
    """What a route asks for. Raises ``KeyError`` for a tag that nobody has given rights."""
    return ROUTES.get(name) or TAGS[tag][0 if reads else 1]
