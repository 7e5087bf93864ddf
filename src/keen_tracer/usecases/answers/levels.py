"""A level as it goes over the wire."""

from typing import Annotated

from pydantic import Field, WithJsonSchema

# The pages are told the four levels; a page of the core hands on what it was given as a number.
LevelNumber = Annotated[
    int, Field(ge=0, le=3), WithJsonSchema({"type": "integer", "enum": [0, 1, 2, 3]})
]
