"""A word of the user's own: found by what was entered by hand, kept, and understood from then on."""

from __future__ import annotations

import pytest

from robust_ledger.callout.learning import knowing, line_words_text, offer, read_line_words
from robust_ledger.callout.stages import Context, read_line
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.conventions import OwnWord
from robust_ledger.jobbook.home import home
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import Profile

BOOK = load_codebook("2023")


def offered(line: str, part: str, **entered) -> OwnWord | None:
    return offer(line, "walkthrough", Job(), with_part(Job(), part, **entered), BOOK)


@pytest.mark.parametrize(
    ("line", "part", "entered", "means"),
    [
        ("the snorkel is at nineteen feet", "overhead", {"weatherhead_ft": 19.0}, "weatherhead"),
        ("earther is number six copper", "grounding", {"gec": "6 Cu"}, "gec"),
        ("snorkel at nineteen feet", "overhead", {"weatherhead_ft": 20.0}, None),  # another figure was entered
        ("snorkel at nineteen feet", "existing", {"meter_label_a": 100.0}, None),  # another field
        ("the meter says 150", "existing", {"meter_label_a": 150.0}, None),  # every word is known
    ],
)
def test_a_word_is_offered_where_it_makes_the_line_say_what_was_entered(line, part, entered, means):
    one = offered(line, part, **entered)
    assert (one.means.partition(" ")[0] if one else None) == means


def test_a_word_that_was_kept_is_understood_from_then_on():
    job = knowing(Job(), OwnWord(word="snorkel", means="weatherhead"))
    made = read_line("snorkel twenty one feet", Context(job, BOOK), "walkthrough")
    assert made.certainty == "sure" and made.facts == {"overhead.weatherhead_ft": 21.0}
    anew = knowing(job, OwnWord(word="snorkel", means="mast"))
    assert [one.means for one in anew.conventions.line_words] == ["mast"]
    assert read_line("snorkel twenty one feet", Context(Job(), BOOK), "walkthrough").certainty == "refused"


def test_words_are_typed_and_read_back():
    words = read_line_words("lolly = panel; tails = riser")
    assert line_words_text(words) == "lolly = panel; tails = riser"
    with pytest.raises(ValueError, match='"moon" is not known on the line'):
        read_line_words("lolly = moon")
    with pytest.raises(ValueError, match="says no word and what it means"):
        read_line_words("lolly panel")


def test_the_company_profile_keeps_it_beside_the_others():
    store = ProfileStore(home())
    word = OwnWord(word="snorkel", means="weatherhead")
    assert store.learn(Job(), word) == "", "there is none yet"
    store.keep(
        Profile("company", "Valley Electric", {"conventions": {"line_words": [{"word": "lolly", "means": "panel"}]}})
    )
    store.choose("company", "Valley Electric")
    assert store.learn(Job(), word) == "Valley Electric"
    assert line_words_text(store.new_job().conventions.line_words) == "lolly = panel; snorkel = weatherhead"
