"""That nothing is lost; the book of jobs, profiles, the doctor."""

__all__ = [
    "about",
    "book",
    "differences",
    "disk",
    "doctor",
    "first",
    "history",
    "home",
    "index",
    "journal",
    "lock",
    "log",
    "profile_store",
    "profiles",
    "runs",
    "stands",
    "summary",
    "unsaved",
]
