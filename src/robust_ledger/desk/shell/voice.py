"""A voice for dictation, where the machine has one: the speech service of the desktop; without it everything is there to read."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QObject


class Voice:
    """Says a sentence aloud. `is_there` False: no speech service is installed, or it has no voice."""

    def __init__(self, parent: QObject) -> None:
        self.speech: Any = None
        try:
            from PyQt6.QtTextToSpeech import QTextToSpeech  # some machines lack its library
        except ImportError:
            return
        engines = [name for name in QTextToSpeech.availableEngines() if name != "mock"]
        if engines:
            made = QTextToSpeech(engines[0], parent)
            if made.availableVoices():
                self.speech = made

    @property
    def is_there(self) -> bool:
        return self.speech is not None

    def say(self, words: str) -> None:
        if self.speech is not None:
            self.speech.say(words)

    def stop(self) -> None:
        if self.speech is not None:
            self.speech.stop()
