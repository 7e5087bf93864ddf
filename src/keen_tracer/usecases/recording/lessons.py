"""What a closed case taught of a model, kept with the known faults of the model."""

from ...storage.bulk import known, update
from ...storage.db import Connection
from ...storage.records import run


def learn_of_model(connection: Connection, model: str, lesson: str, who: str) -> None:
    """Add a lesson to the known faults of a model, once; who did it is kept as with any change."""
    before = known(connection, "model", "code", ["known_faults"], [model]).get(model)
    if before is None or lesson in (before[0] or ""):
        return
    words = "; ".join(x for x in (before[0], lesson) if x)
    update(connection, "model", "code", model, {"known_faults": words})
    run(
        connection,
        "record_change_put",
        place="models",
        code=model,
        field="known_faults",
        old=before[0] or "",
        new=words,
        by=who,
    )
