"""The call-out line: what is said on any stage becomes facts of the job."""

__all__ = [
    "anywhere",
    "circuit",
    "completions",
    "corrections",
    "facts",
    "learning",
    "listing",
    "manifest",
    "session",
    "spoken",
    "stages",
    "text",
    "words",
    "writing",
]
