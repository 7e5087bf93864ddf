"""The box as pages see it, while the launcher has not yet seen what is wanted."""

from pathlib import Path

import pytest

from keen_tracer.api.box import get_box

READY = '{"state": "ready", "said": "", "address": "http://127.0.0.1:1"}'


@pytest.mark.parametrize(
    ("wanted", "state"), [("", "ready"), ("empty", "emptying"), ("fill", "filling")]
)
def test_what_is_wanted_is_under_way_before_the_launcher_sees_it(
    wanted: str, state: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Else a page would see the old state, take it for the end and stop asking."""
    monkeypatch.setenv("KEEN_BOX", str(tmp_path))
    (tmp_path / "state.json").write_text(READY)
    if wanted:
        (tmp_path / "wanted").write_text(f"{wanted} http://127.0.0.1:2")
    assert get_box().state == state
