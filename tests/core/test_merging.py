"""Laws of merging: whoever comes second, what only one changed is kept, and nothing both changed is decided unasked."""

from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.edit import Put, apply
from heathrise.core.job import AccessPoint
from heathrise.core.merging import Settlement, merge
from tests.house import House

HOUSE = House()
HOUSE.point()
JOB = HOUSE.job
POINT = JOB.of(AccessPoint)[0]
FIELDS = {
    "label": st.sampled_from(["Hall", "Porch"]),
    "height_m": st.sampled_from([2.0, 2.5]),
    "facing_deg": st.sampled_from([0.0, 90.0]),
    "pinned": st.booleans(),
}
EDITS = st.fixed_dictionaries({}, optional=FIELDS)


def _is_put(job, **fields):
    return apply(job, [Put(element=POINT.model_copy(update=fields))]).job


def _merge(theirs, mine, choices=()):
    put = Put(element=POINT.model_copy(update=mine))
    return merge(_is_put(JOB, **theirs), [put], {POINT.id: POINT}, choices=choices)


@given(EDITS, EDITS)
def test_what_one_hand_changed_is_kept_and_what_both_changed_is_asked(theirs, mine):
    found = _merge(theirs, mine)
    was = POINT.model_dump()
    both = {n for n in theirs.keys() & mine.keys() if len({was[n], theirs[n], mine[n]}) == 3}
    assert {clash.path for clash in found.clashes} == {(name,) for name in both}
    if not both:
        now = found.operations[0].element
        for name in FIELDS:
            wanted = [side[name] for side in (mine, theirs) if name in side and side[name] != was[name]]
            assert getattr(now, name) == (wanted[0] if wanted else was[name])


@given(EDITS, EDITS, st.sampled_from(["mine", "theirs"]))
def test_a_choice_for_every_clash_leaves_none(theirs, mine, take):
    clashes = _merge(theirs, mine).clashes
    choices = [Settlement(element_id=c.element_id, path=c.path, take=take, theirs=c.theirs) for c in clashes]
    settled = _merge(theirs, mine, choices)
    assert settled.clashes == ()
    for clash in clashes:
        value = getattr(settled.operations[0].element, clash.path[0])
        assert value == (clash.mine if take == "mine" else clash.theirs)
