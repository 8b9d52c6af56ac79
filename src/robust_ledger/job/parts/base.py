"""What every part of the document has in common: immutable, unknown fields kept, finite numbers, printable text."""

from __future__ import annotations

import os
from typing import Annotated

# No plug-ins are used, and looking for them costs a tenth of the desk's start.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "1")

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field


class Model(BaseModel):
    """Base of every part of the document."""

    model_config = ConfigDict(frozen=True, extra="allow", allow_inf_nan=False, defer_build=True)


def _clean(text: object) -> object:
    """Control characters have no place in a line of text that ends up on a printed sheet."""
    return "".join(c for c in text if c.isprintable() or c == "\n") if isinstance(text, str) else text


Text = Annotated[str, BeforeValidator(_clean), Field(max_length=2000)]
Line = Annotated[str, BeforeValidator(_clean), Field(max_length=200)]
