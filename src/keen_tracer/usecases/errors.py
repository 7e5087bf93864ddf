"""What a use case refuses, and why. Each carries words a person can act on."""


class NotThere(Exception):
    """Nothing of that name."""


class CannotRecord(Exception):
    """Something that cannot be recorded as it was given. The text says what is wrong and what to
    do; `fields` says where, if known."""

    def __init__(self, code: str, text: str, fields: dict[str, str] | None = None):
        self.code, self.fields = code, fields or {}
        super().__init__(text)


class CannotDecide(Exception):
    """A decision that cannot be taken as asked. The text says why and what to do."""

    def __init__(self, code: str, text: str):
        self.code = code
        super().__init__(text)


class NoLimits(Exception):
    """There is no published version of limits to judge by."""
