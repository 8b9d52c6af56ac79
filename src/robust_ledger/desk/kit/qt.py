"""What Qt's types leave open and its documentation does not."""

from __future__ import annotations

from typing import TypeVar

Thing = TypeVar("Thing")


def there(thing: Thing | None) -> Thing:
    """Something Qt hands out that is there as long as its widget is; its types allow for none."""
    assert thing is not None
    return thing
