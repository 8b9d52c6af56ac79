"""Times of day as minutes from midnight, read and written; past midnight they go on from 24:00."""

from __future__ import annotations

import re

_CLOCK = re.compile(r"\s*(\d{1,2})(?::?(\d{2}))?\s*(am|pm|a|p)?\s*", re.I)


def read_clock(text: str) -> int:
    """ "8:00", "5 pm", "1730" as minutes from midnight. Raises ValueError with one sentence."""
    match = _CLOCK.fullmatch(text)
    hours, minutes = (int(match[1]), int(match[2] or 0)) if match else (99, 0)
    half = (match[3] or "").lower()[:1] if match else ""
    if half and not 1 <= hours <= 12:
        hours = 99
    elif half:
        hours = hours % 12 + (12 if half == "p" else 0)
    if hours > 23 or minutes > 59:
        raise ValueError(f'"{text.strip()}" is no time of day; write it like 8:00 or 5 pm.')
    return 60 * hours + minutes


def clock_text(minutes: float) -> str:
    """Minutes from midnight as a clock shows them: "5:05 pm", after midnight "12:20 am (next day)"."""
    whole = round(minutes)
    days, rest = divmod(whole, 24 * 60)
    hours, minute = divmod(rest, 60)
    text = f"{(hours + 11) % 12 + 1}:{minute:02d} {'am' if hours < 12 else 'pm'}"
    return text if days <= 0 else f"{text} ({'next day' if days == 1 else f'{days} days later'})"
