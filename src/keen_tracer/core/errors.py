"""Errors of the core. Each carries its data, so that the edge can say what, where and what to
do."""


class CoreError(ValueError):
    """Base of all errors raised by the core."""

    code = "core"


class OutOfRange(CoreError):
    """A quantity outside the range its formula or its meaning allows."""

    code = "out_of_range"

    def __init__(self, name: str, value: object, low: float, high: float, unit: str):
        self.name, self.value, self.low, self.high, self.unit = name, value, low, high, unit
        super().__init__(
            f"{name} is {value} {unit}; it must lie from {low:.10g} to {high:.10g} {unit}"
        )


class Unreadable(CoreError):
    """A cell that does not hold a reading. `hint` says what to write instead."""

    code = "unreadable"

    def __init__(self, text: str, hint: str):
        self.text, self.hint = text, hint
        super().__init__(f"{text!r} cannot be read: {hint}")


class UnknownName(CoreError):
    """A name that is not in a table of the program."""

    code = "unknown_name"

    def __init__(self, kind: str, name: str, known: list[str]):
        self.kind, self.name, self.known = kind, name, known
        super().__init__(f"{name!r} is not a known {kind}; known: {', '.join(known)}")


class NotPossible(CoreError):
    """A step that cannot be taken now. The text says why and what to do."""

    code = "not_possible"
