"""What goes over the wire for Exchange: uploads, previews, amendments, where figures came from."""

from datetime import datetime

from pydantic import BaseModel, Field

from .fields import Text, Word


class Uploaded(BaseModel):
    token: str
    name: str
    bytes: int


class Standing(BaseModel):
    """When it was last written down elsewhere, and last tried whether that comes back."""

    last_backup: datetime | None
    backup_tried: datetime | None


class ImportProgress(BaseModel):
    running: bool
    rows: int


class ImportRequest(BaseModel):
    tokens: list[Word] = Field(min_length=1, max_length=50)
    accept: bool = False


class SourceOut(BaseModel):
    """A file that was brought in; `mark` is the start of its SHA-256."""

    name: str
    kind: str
    bytes: int
    imported_at: datetime
    imported_by: str
    mark: str


class AmendedReading(BaseModel):
    symbol: str
    old: str
    new: str


class Amendment(BaseModel):
    id: int
    laboratory: str
    report: str
    revision: int
    sample: str | None
    readings: list[AmendedReading]


class Answer(BaseModel):
    accept: bool
    reason: Text = ""
