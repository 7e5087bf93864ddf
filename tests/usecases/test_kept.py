"""What is kept is never older than what it rests on, and never more than was meant."""

from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.usecases.kept import Kept

asked = st.tuples(st.integers(0, 5), st.one_of(st.none(), st.integers(0, 3)))


@given(steps=st.lists(asked, max_size=60), most=st.integers(1, 4))
def test_what_is_given_was_made_at_the_mark_it_was_asked_for(
    steps: list[tuple[int, int | None]], most: int
) -> None:
    kept: Kept[tuple[int, int | None, int]] = Kept(most)
    for n, (key, mark) in enumerate(steps):
        found = kept.get(key, mark, lambda key=key, mark=mark, n=n: (key, mark, n))
        assert found[:2] == (key, mark)
        assert mark is not None or found[2] == n, "nothing is kept of what has no mark"
        assert sum(kept.find(k, m) is not None for k in range(6) for m in range(4)) <= most
