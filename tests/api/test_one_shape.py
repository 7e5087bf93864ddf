"""What somebody sends is written down once: the command that carries it out is the body of its
route, and no model of the API says its fields again."""

import importlib
import inspect
import pkgutil
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from datetime import date
from types import ModuleType
from uuid import uuid4

from pydantic import BaseModel

from keen_tracer import api, usecases
from keen_tracer.api.context import of_engine
from keen_tracer.usecases.recording.log_rows import Event, NewEvent

ALIKE = 0.8  # of the fields of both together; our choice
FEW = 3  # fields that two shapes may share by chance


def _classes(package: ModuleType) -> Iterator[type]:
    for found in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
        module = importlib.import_module(found.name)
        for _, one in inspect.getmembers(module, inspect.isclass):
            if one.__module__ == module.__name__:
                yield one


def test_no_model_of_the_api_repeats_a_command() -> None:
    models = {m: set(m.model_fields) for m in _classes(api) if issubclass(m, BaseModel)}
    commands = {c: {f.name for f in fields(c)} for c in _classes(usecases) if is_dataclass(c)}
    assert len(models) > 20
    assert len(commands) > 40
    copies = [
        f"{m.__name__} says {c.__name__} again"
        for m, sent in models.items()
        for c, known in commands.items()
        if len(sent & known) >= FEW and len(sent & known) / len(sent | known) > ALIKE
    ]
    assert copies == []


def test_a_command_for_an_engine_keeps_everything_that_was_sent() -> None:
    sent = NewEvent(id=uuid4(), on=date(2026, 11, 3), kind="repair", part="cooler", litres_in=2.0)
    done = of_engine(Event, "E-1", sent)
    assert done.engine == "E-1"
    assert all(getattr(done, f.name) == getattr(sent, f.name) for f in fields(sent))
