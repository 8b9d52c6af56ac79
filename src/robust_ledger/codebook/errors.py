"""What can go wrong when the code's figures are looked up."""


class CodebookError(Exception):
    """An edition's data is wrong or does not hold what is asked of it; the message is one sentence."""


class UnknownRuleError(CodebookError):
    """A value, section or table that the edition does not have."""
