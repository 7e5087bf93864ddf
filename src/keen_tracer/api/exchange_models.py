"""What goes over the wire for Exchange: uploads, previews, amendments, where figures came from."""

from pydantic import BaseModel, Field

from ..usecases.fields import Text, Word


class Uploaded(BaseModel):
    token: str
    name: str
    bytes: int


class ImportProgress(BaseModel):
    running: bool
    rows: int


class ImportRequest(BaseModel):
    tokens: list[Word] = Field(min_length=1, max_length=50)
    accept: bool = False


class Answer(BaseModel):
    accept: bool
    reason: Text = ""


class TakeBack(BaseModel):
    reason: Text = ""
